// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/conventions.h"
#include "board/mains_side.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

using Kinds = PartKind;

std::string stage_of_kind(const Board& board, const Part& part) {
    switch (part.kind) {
    case Kinds::Fuse:
    case Kinds::Varistor:
    case Kinds::Switch:
    case Kinds::Thermistor:
        return board.mains ? "mains-in" : "";
    case Kinds::XCapacitor:
        return "filter";
    case Kinds::Choke:
        return board.mains ? "filter" : "";
    case Kinds::Bridge:
        return "rectify";
    case Kinds::Electrolytic:
        return part.volts.value_or(0) >= board.practice().bulk_from ? "bulk" : "";
    case Kinds::Mosfet:
    case Kinds::Igbt:
    case Kinds::IntegratedSwitch:
        return "switch";
    case Kinds::Controller:
        return "control";
    case Kinds::Transformer:
    case Kinds::Optocoupler:
    case Kinds::YCapacitor:
        return "barrier";
    case Kinds::ShuntReference:
        return "feedback";
    case Kinds::Regulator:
        return "smooth";
    case Kinds::Load:
    case Kinds::Thyristor:
        return "rails";
    default:
        return "";
    }
}

// Stages that stand behind the barrier, and before it.
bool behind(const std::string& stage) { return stage == "rectify-out" || stage == "smooth" || stage == "feedback" || stage == "rails"; }

class StageFiller {
public:
    explicit StageFiller(Board& board) : m_board(board), m_given(board.parts.size(), 0) {
        for (std::size_t i = 0; i < board.parts.size(); ++i) m_given[i] = !board.parts[i].stage.empty();
    }

    void run() {
        if (std::all_of(m_given.begin(), m_given.end(), [](char c) { return c != 0; })) return;
        for (const auto& rail : m_board.rails) m_returns.push_back(rail.return_id);
        find_contacts();
        for (auto& part : m_board.parts)
            if (part.stage.empty()) part.stage = stage_of_kind(m_board, part);
        along_the_line();
        m_mains = nets_on_mains(m_board);
        const bool inlet = std::any_of(m_mains.begin(), m_mains.end(), [](char c) { return c != 0; });
        m_parted = inlet && std::any_of(m_board.parts.begin(), m_board.parts.end(), [](const Part& p) { return p.stage == "barrier"; });
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            if (part.kind == Kinds::Connector && part.stage.empty()) part.stage = on_mains(part) ? "mains-in" : "rails";
            if (!m_given[i] && !fits(part, part.stage)) part.stage.clear(); // a fuse behind the barrier
        }
        behind_windings();
        along_the_rails();
        along_the_input();
        while (by_company()) {
        }
        for (auto& part : m_board.parts)
            if (part.stage.empty()) part.stage = m_parted && !on_mains(part) ? "rails" : "control";
    }

private:
    bool on_mains(const Part& part) const {
        return std::any_of(part.pins.begin(), part.pins.end(),
                           [&](const Pin& pin) { return m_mains[static_cast<std::size_t>(pin.id)] != 0; });
    }

    bool fits(const Part& part, const std::string& stage) const {
        return stage.empty() || stage == "barrier" || !m_parted || on_mains(part) != behind(stage);
    }

    using Nets = std::vector<char>;
    bool has(const Nets& nets, NetId n) const { return n >= 0 && nets[static_cast<std::size_t>(n)] != 0; }
    bool is_return(NetId n) const { return std::find(m_returns.begin(), m_returns.end(), n) != m_returns.end(); }

    Nets grown(const std::vector<NetId>& from, bool rectifies) const { return nets_along(m_board, from, rectifies); }

    // The inlet is a connector that no rail leaves by.
    void find_contacts() {
        std::vector<NetId> rails;
        for (const auto& rail : m_board.rails) rails.push_back(rail.net_id);
        m_on_rails = grown(rails, false);
        const auto is_inlet = [](const Part& p) { return p.kind == Kinds::Connector && p.stage == "mains-in"; };
        for (std::size_t i = 0; i < m_board.parts.size() && !m_board.rails.empty(); ++i) {
            Part& part = m_board.parts[i];
            if (part.kind != Kinds::Connector || m_given[i]) continue;
            const bool out =
                std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return has(m_on_rails, p.id) && !is_return(p.id); });
            if (out)
                part.stage = "rails";
            else if (part.pairs().size() >= 2 && std::none_of(m_board.parts.begin(), m_board.parts.end(), is_inlet))
                part.stage = "mains-in";
        }
    }

    std::vector<NetId> inlet() const {
        std::vector<NetId> out;
        for (const auto& part : m_board.parts)
            if (part.kind == Kinds::Connector && part.stage == "mains-in")
                for (const auto& pin : part.pins)
                    if (!is_return(pin.id)) out.push_back(pin.id);
        return out;
    }

    // Fuses, switches and the like that the line does not reach stand elsewhere; what rectifies it stands at its end.
    void along_the_line() {
        const auto contacts = inlet();
        if (!m_board.mains || contacts.empty()) return;
        const Nets line = grown(contacts, false);
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            const bool on = std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return has(line, p.id); });
            if (m_given[i] || part.kind == Kinds::Connector) continue;
            if (!on && (part.stage == "mains-in" || part.stage == "rectify")) part.stage.clear();
            if (on && is_diode_like(part.kind) && part.kind != Kinds::Zener) part.stage = "rectify";
        }
    }

    // What rectifies a winding behind the barrier, and what that charges.
    void behind_windings() {
        std::vector<NetId> wound, charged;
        for (const auto& part : m_board.parts)
            for (const auto& pin : part.pins)
                if (part.kind == Kinds::Transformer && pin.role.front() == 'S' && !is_return(pin.id)) wound.push_back(pin.id);
        const Nets fed = grown(wound, false);
        const auto rectifies = [&](const Part& part) {
            return (part.kind == Kinds::Bridge || (is_diode_like(part.kind) && part.kind != Kinds::Zener)) && !on_mains(part) &&
                   std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return has(fed, p.id); });
        };
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            if (m_given[i] || !rectifies(part)) continue;
            part.stage = "rectify-out";
            for (const auto& pin : part.pins)
                if (!has(fed, pin.id) && !is_return(pin.id)) charged.push_back(pin.id);
        }
        const Nets stored = grown(charged, false);
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            const auto on = [&](const Pin& p) { return has(stored, p.id) || is_return(p.id); };
            if (!m_given[i] && is_wet_or_solid_electrolytic(part.kind) && std::all_of(part.pins.begin(), part.pins.end(), on))
                part.stage = "smooth";
        }
    }

    // What rectifies onto a rail, filters it, stores for it or loads it; of the mains' side only what a rail of few volts has.
    void along_the_rails() {
        std::vector<char> positive(m_board.nets.size(), 0), negative = positive;
        for (const auto& rail : m_board.rails) {
            if (std::fabs(rail.volts) >= m_board.practice().bulk_from) continue;
            const Nets nets = grown({rail.net_id}, false);
            auto& side = rail.volts < 0 ? negative : positive;
            for (std::size_t n = 0; n < nets.size(); ++n) side[n] = static_cast<char>(side[n] != 0 || nets[n] != 0);
        }
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            if (m_given[i] || part.pins.size() < 2 || part.kind == Kinds::Connector) continue;
            const auto on_rail = [&](NetId n) { return !is_return(n) && (has(positive, n) || has(negative, n)); };
            const bool on = std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return on_rail(p.id); });
            const bool across = on && part.pins.size() == 2 &&
                                std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return is_return(p.id); });
            const bool delivers = is_diode_like(part.kind) && part.kind != Kinds::Zener &&
                                  ((has(positive, part.net("K")) && !is_return(part.net("K")) && !has(positive, part.net("A"))) ||
                                   (has(negative, part.net("A")) && !is_return(part.net("A")) && !has(negative, part.net("K"))));
            if (delivers || (on && part.kind == Kinds::Bridge))
                part.stage = "rectify-out";
            else if ((across && is_capacitor(part.kind)) || (on && (part.kind == Kinds::Inductor || part.kind == Kinds::Choke)))
                part.stage = "smooth";
            else if (across)
                part.stage = "rails";
        }
    }

    // Between the inlet and what switches, on boards without mains; anywhere, what a chip's supply stores.
    void along_the_input() {
        const Nets fed = grown(inlet(), true);
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            if (m_given[i] || !part.stage.empty() || part.pins.size() < 2) continue;
            const auto on_way = [&](const Pin& p) { return has(fed, p.id) && (!has(m_on_rails, p.id) || is_return(p.id)); };
            const bool through = !m_board.mains && std::all_of(part.pins.begin(), part.pins.end(), on_way);
            const bool feeds_chip = std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& chip) {
                return is_controller(chip.kind) && part.touches(chip.net(chip_pins(chip).supply)) &&
                       part.touches(chip.net(chip_pins(chip).ground));
            });
            if (is_capacitor(part.kind) && through)
                part.stage = "filter";
            else if (is_capacitor(part.kind) && feeds_chip)
                part.stage = "control";
            else if (through && (hands_on(part.kind) || is_diode_like(part.kind)))
                part.stage = part.kind == Kinds::Inductor || part.kind == Kinds::Choke ? "filter" : "mains-in";
        }
    }

    // A net that few parts share says more than a ground that all share; what stands across the barrier says what a diode beside it does.
    bool by_company() {
        std::vector<std::map<std::string, int>> at_net(m_board.nets.size());
        for (const auto& part : m_board.parts)
            for (const auto& pin : part.pins)
                if (!part.stage.empty()) ++at_net[static_cast<std::size_t>(pin.id)][part.stage];
        bool changed = false;
        for (auto& part : m_board.parts) {
            if (!part.stage.empty()) continue;
            std::map<std::string, double> votes;
            bool beside_winding = false;
            for (const auto& pin : part.pins) {
                const auto& here = at_net[static_cast<std::size_t>(pin.id)];
                int all = 0;
                for (const auto& [stage, count] : here) all += count;
                for (const auto& [stage, count] : here) {
                    beside_winding = beside_winding || stage == "barrier";
                    const bool taken = stage == "rectify-out" && is_diode_like(part.kind); // those are found by what they feed
                    if (stage != "barrier" && !taken && fits(part, stage)) votes[stage] += static_cast<double>(count) / (all * all);
                }
            }
            const bool rectifier = is_diode_like(part.kind) && part.kind != Kinds::Zener && beside_winding && m_parted && !on_mains(part);
            if (votes.empty() && !rectifier) continue;
            const auto most = [](const auto& a, const auto& b) { return a.second < b.second; };
            part.stage = rectifier ? "rectify-out" : std::max_element(votes.begin(), votes.end(), most)->first;
            changed = true;
        }
        return changed;
    }

    Board& m_board;
    std::vector<char> m_given, m_mains, m_on_rails;
    std::vector<NetId> m_returns;
    bool m_parted = false;
};

} // namespace

void fill_stages(Board& board) { StageFiller(board).run(); }

} // namespace ohmo
