// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/conventions.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/mains_side.h"
#include "board/practice.h"
#include "board/value_reading.h"

#include <algorithm>
#include <map>

namespace ohmo {
namespace {

// What the letters before the number stand for.
const std::vector<std::pair<std::string, PartKind>>& letters() {
    using K = PartKind;
    static const std::vector<std::pair<std::string, PartKind>> table = {{"R", K::Resistor},
                                                                        {"RF", K::FusibleResistor},
                                                                        {"FR", K::FusibleResistor},
                                                                        {"RT", K::Thermistor},
                                                                        {"NTC", K::Thermistor},
                                                                        {"TH", K::Thermistor},
                                                                        {"RV", K::Varistor},
                                                                        {"VDR", K::Varistor},
                                                                        {"MOV", K::Varistor},
                                                                        {"F", K::Fuse},
                                                                        {"FS", K::Fuse},
                                                                        {"C", K::Ceramic},
                                                                        {"CX", K::XCapacitor},
                                                                        {"CY", K::YCapacitor},
                                                                        {"L", K::Inductor},
                                                                        {"LF", K::Choke},
                                                                        {"T", K::Transformer},
                                                                        {"TR", K::Transformer},
                                                                        {"D", K::Diode},
                                                                        {"CR", K::Diode},
                                                                        {"LED", K::Diode},
                                                                        {"ZD", K::Zener},
                                                                        {"DZ", K::Zener},
                                                                        {"Z", K::Zener},
                                                                        {"VZ", K::Zener},
                                                                        {"BR", K::Bridge},
                                                                        {"DB", K::Bridge},
                                                                        {"BD", K::Bridge},
                                                                        {"Q", K::Mosfet},
                                                                        {"VT", K::BjtNpn},
                                                                        {"TS", K::BjtNpn},
                                                                        {"U", K::Controller},
                                                                        {"IC", K::Controller},
                                                                        {"OK", K::Optocoupler},
                                                                        {"OC", K::Optocoupler},
                                                                        {"PC", K::Optocoupler},
                                                                        {"P", K::Connector},
                                                                        {"J", K::Connector},
                                                                        {"CN", K::Connector},
                                                                        {"X", K::Connector},
                                                                        {"CON", K::Connector},
                                                                        {"S", K::Switch},
                                                                        {"SW", K::Switch},
                                                                        {"K", K::Relay},
                                                                        {"RY", K::Relay},
                                                                        {"RL", K::Relay},
                                                                        {"H", K::Lamp},
                                                                        {"LA", K::Lamp},
                                                                        {"M", K::Load},
                                                                        {"SCR", K::Thyristor},
                                                                        {"THY", K::Thyristor},
                                                                        {"TY", K::Thyristor}};
    return table;
}

} // namespace

std::optional<PartKind> kind_of_ref(const std::string& ref, const std::string& value, const std::vector<std::string>& roles) {
    const auto has = [&](const char* role) {
        return std::any_of(roles.begin(), roles.end(), [&](const std::string& r) { return uppered(r) == role; });
    };
    std::string start;
    for (char c : uppered(ref)) {
        if (c < 'A' || c > 'Z') break;
        start += c;
    }
    const auto known = std::find_if(letters().begin(), letters().end(), [&](const auto& one) { return one.first == start; });
    if (known == letters().end()) return std::nullopt;
    const PartKind kind = known->second;
    if (is_switch_device(kind)) {
        if (has("A") && has("K")) return PartKind::Thyristor;
        if (has("B")) return PartKind::BjtNpn;
        if (has("C") && has("G")) return PartKind::Igbt;
        if (has("G") || has("D")) return PartKind::Mosfet;
        return kind;
    }
    if (kind == PartKind::Controller) {
        if (has("IN") && has("OUT")) return PartKind::Regulator;
        if (has("A") && has("K")) return has("C") ? PartKind::Optocoupler : PartKind::ShuntReference;
        if (has("D") || has("SW")) return PartKind::IntegratedSwitch;
        return kind;
    }
    if (kind != PartKind::Ceramic) return kind;
    if (has("+")) return PartKind::Electrolytic;
    const auto readings = value_readings(PartKind::Ceramic, value);
    const auto farads = readings.empty() ? parse_quantity("") : parse_quantity(readings.front().value);
    return farads && *farads >= shipped_practice().electrolytic_from ? PartKind::Electrolytic : kind;
}

std::optional<PartKind> kind_of_word(const std::string& word) {
    using K = PartKind;
    static const std::map<std::string, PartKind> said = {
        {"npn", K::BjtNpn},   {"pnp", K::BjtPnp},    {"fusible", K::FusibleResistor}, {"ntc", K::Thermistor},
        {"mov", K::Varistor}, {"scr", K::Thyristor}, {"opto", K::Optocoupler},        {"coil", K::Inductor},
        {"led", K::Diode},    {"fet", K::Mosfet},    {"chip", K::Controller},         {"reference", K::ShuntReference}};
    const std::string lower = lowered(word);
    if (const auto kind = kind_from_name(lower)) return kind;
    const auto found = said.find(lower);
    return found == said.end() ? std::nullopt : std::optional(found->second);
}

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
        return board.mains ? "filter" : "smooth";
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
        for (auto& part : m_board.parts)
            if (part.stage.empty()) part.stage = stage_of_kind(m_board, part);
        m_mains = nets_on_mains(m_board);
        const bool inlet = std::any_of(m_mains.begin(), m_mains.end(), [](char c) { return c != 0; });
        m_parted = inlet && std::any_of(m_board.parts.begin(), m_board.parts.end(), [](const Part& p) { return p.stage == "barrier"; });
        for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
            Part& part = m_board.parts[i];
            if (part.kind == Kinds::Connector && !m_given[i]) part.stage = on_mains(part) ? "mains-in" : "rails";
            if (!m_given[i] && !fits(part, part.stage)) part.stage.clear(); // a fuse behind the barrier
        }
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
                    if (stage != "barrier" && fits(part, stage)) votes[stage] += static_cast<double>(count) / (all * all);
                }
            }
            const bool rectifier = is_diode_like(part.kind) && beside_winding && m_parted && !on_mains(part);
            if (votes.empty() && !rectifier) continue;
            const auto most = [](const auto& a, const auto& b) { return a.second < b.second; };
            part.stage = rectifier ? "rectify-out" : std::max_element(votes.begin(), votes.end(), most)->first;
            changed = true;
        }
        return changed;
    }

    Board& m_board;
    std::vector<char> m_given, m_mains;
    bool m_parted = false;
};

} // namespace

void fill_stages(Board& board) { StageFiller(board).run(); }

} // namespace ohmo
