// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/taken.h"

#include "board/nominal.h"
#include "board/roles.h"
#include "board/switch_ends.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>
#include <utility>

namespace ohmo {
namespace {

constexpr double kPrimaryTurns = 1000;

struct Taken {
    double value = 0;
    double spread = 0; ///< ln; 0: known to the kind's own
};

class Taker {
public:
    explicit Taker(const Board& board) : m_board(board), m_p(board.practice()), m_roles(find_roles(board)) {}

    int line_transformer() const { return m_roles.line_transformer; }

    // Peak volts that a winding is likely made for, by the reservoirs that rectifiers lead it to; by the rails where those are not rated.
    double peak(const Pin& a, const Pin& b) const {
        std::vector<char> reached(m_board.nets.size(), 0);
        reached[static_cast<std::size_t>(a.id)] = reached[static_cast<std::size_t>(b.id)] = 1;
        double rating = 0;
        for (bool grew = true; grew;) {
            grew = false;
            for (const auto& part : m_board.parts) {
                const bool here = std::any_of(part.pins.begin(), part.pins.end(),
                                              [&](const Pin& p) { return reached[static_cast<std::size_t>(p.id)] != 0; });
                if (!here) continue;
                if (part.kind == PartKind::Electrolytic) rating = std::max(rating, part.volts.value_or(0));
                if (!is_diode_like(part.kind) && part.kind != PartKind::Bridge && part.kind != PartKind::Fuse) continue;
                for (const auto& p : part.pins)
                    if (!std::exchange(reached[static_cast<std::size_t>(p.id)], 1)) grew = true;
            }
        }
        if (rating > 0) return rating * m_p.taken_reservoir_share;
        double volts = 0;
        for (const auto& rail : m_board.rails) volts = std::max(volts, std::fabs(rail.volts));
        return volts / m_p.taken_reservoir_share + m_p.taken_rectifier_volts;
    }

    std::optional<Taken> value(int index) const {
        const Part& part = m_board.part(index);
        if (part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor) return ohms(index, part);
        if (part.kind == PartKind::Fuse) return amps();
        if (part.kind == PartKind::Choke) return Taken{m_p.taken_choke_henry};
        if (is_capacitor(part.kind)) return farads(index, part);
        return std::nullopt;
    }

private:
    static bool holds(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }
    bool on(const Part& part, NetId net) const {
        return net >= 0 && std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == net; });
    }

    // From the bulk rail, or from a switch's own collector, to its base or gate: what gets it going, not what drives it.
    bool starts_a_switch(const Part& part) const {
        if (part.pins.size() != 2) return false;
        for (const auto& sw : m_board.parts) {
            if (!is_switch_device(sw.kind)) continue;
            if (lies_across(part, sw) || joins(part, switch_ends(sw).control, m_roles.hv)) return true;
        }
        return false;
    }

    // A reservoir of low volts stands there, or a diode leads to it.
    bool supplies(NetId net) const {
        return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& other) {
            return (is_wet_or_solid_electrolytic(other.kind) && other.volts.value_or(0) < m_p.taken_line_side_volts &&
                    other.net("+") == net) ||
                   (is_diode_like(other.kind) && other.kind != PartKind::Zener && other.net("K") == net);
        });
    }

    bool feeds_a_chip(const Part& part) const {
        return part.pins.size() == 2 && std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& chip) {
                   if (!is_controller(chip.kind)) return false;
                   const NetId supply = chip.net(chip_pins(chip).supply);
                   return supply >= 0 && on(part, supply) && supplies(part.pins[part.pins[0].id == supply ? 1 : 0].id);
               });
    }

    bool stands_still(NetId net) const {
        return net == m_roles.hv || net == m_roles.primary_ground ||
               std::any_of(m_board.rails.begin(), m_board.rails.end(),
                           [&](const Rail& r) { return net == r.net_id || net == r.return_id; });
    }

    // From a source or emitter, which is no supply itself, to a supply: whatever the transistor passes goes through it, if it passes power
    // or the resistor is made for some.
    bool carries_the_current(const Part& part) const {
        if (part.pins.size() != 2) return false;
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& device = m_board.part(i);
            if (!is_switch_device(device.kind)) continue;
            const bool power = m_roles.is_pass(i) || m_roles.is_power_device(i) || m_roles.is_leg(i);
            const NetId end = switch_ends(device).low;
            if (stands_still(end) || !on(part, end) || (!power && part.watts.value_or(0) < m_p.taken_power_watts)) continue;
            if (stands_still(part.pins[part.pins[0].id == end ? 1 : 0].id)) return true;
        }
        return false;
    }

    Taken ohms(int index, const Part& part) const {
        const Taken inrush{m_p.taken_inrush_ohms, m_p.taken_inrush_ohms_spread};
        if (joins(part, m_roles.source, m_roles.primary_ground) || carries_the_current(part))
            return {m_p.taken_sense_ohms, m_p.taken_sense_ohms_spread};
        if (starts_a_switch(part)) return {m_p.taken_feed_ohms, m_p.taken_feed_ohms_spread};
        if (holds(m_roles.drive_path, index)) return {m_p.taken_drive_ohms, m_p.taken_drive_ohms_spread};
        if (holds(m_roles.drive, index)) return {m_p.taken_pull_down_ohms, m_p.taken_pull_down_ohms_spread};
        if (on(part, m_roles.hv)) return {m_p.taken_feed_ohms, m_p.taken_feed_ohms_spread};
        if (feeds_a_chip(part)) return {m_p.taken_chip_feed_ohms, m_p.taken_chip_feed_ohms_spread};
        for (const auto& rail : m_board.rails)
            if (joins(part, rail.net_id, rail.return_id)) return {m_p.taken_rail_load_ohms, m_p.taken_rail_load_ohms_spread};
        if (part.stage == "mains-in" || part.stage == "filter")
            return part.kind == PartKind::FusibleResistor ? inrush : Taken{m_p.taken_across_mains_ohms, m_p.taken_across_mains_ohms_spread};
        if (part.kind == PartKind::FusibleResistor) return inrush;
        return {m_p.unknown_resistor_ohms};
    }

    Taken farads(int index, const Part& part) const {
        if (part.kind == PartKind::XCapacitor) return {m_p.line_farads, m_p.line_farads_spread};
        if (part.kind == PartKind::YCapacitor) return {m_p.barrier_farads, m_p.barrier_farads_spread};
        if (!is_wet_or_solid_electrolytic(part.kind)) return {m_p.small_farads};
        if (holds(m_roles.bulk, index)) {
            const double all = m_p.taken_bulk_farads * std::max(m_roles.input_watts, 1.0);
            const auto count = static_cast<double>(m_roles.bulk.size());
            return {m_roles.stacked ? all * count : all / count, m_p.taken_bulk_farads_spread};
        }
        if (holds(m_roles.supply_capacitors, index)) return {m_p.taken_supply_farads, m_p.taken_supply_farads_spread};
        const bool rail = std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& r) { return on(part, r.return_id); }) &&
                          (part.stage == "smooth" || part.stage == "rails");
        if (rail) return {m_p.taken_rail_farads, m_p.taken_rail_farads_spread};
        return part.volts.value_or(0) > m_p.taken_line_side_volts ? Taken{m_p.electrolytic_farads}
                                                                  : Taken{m_p.taken_supply_farads, m_p.taken_supply_farads_spread};
    }

    // Twice the line current of a capacitor-input rectifier.
    std::optional<Taken> amps() const {
        if (!m_board.mains || m_roles.input_watts <= 0) return std::nullopt;
        return Taken{m_p.taken_fuse_share * m_roles.input_watts / (m_board.mains->volts * m_p.power_factor)};
    }

    const Board& m_board;
    const Practice& m_p;
    BoardRoles m_roles;
};

bool wants_one(const Part& part) {
    const auto n = nominal_or_none(part);
    if (!n) return false;
    switch (part.kind) {
    case PartKind::Resistor:
    case PartKind::FusibleResistor:
        return !n->ohms;
    case PartKind::Fuse:
        return !n->amps;
    case PartKind::Choke:
        return !n->henry;
    default:
        return is_capacitor(part.kind) && !n->farads;
    }
}

void take_turns(Board& board, int transformer, const Taker& taker) {
    Part& part = board.parts[static_cast<std::size_t>(transformer)];
    const double line = board.mains->volts * std::numbers::sqrt2;
    std::map<std::string, double> turns;
    for (const auto& [a, b] : part.pairs())
        turns[a->role + "-" + b->role] = a->role.front() == 'P' ? kPrimaryTurns : kPrimaryTurns * taker.peak(*a, *b) / line;
    part.turns = std::move(turns);
}

} // namespace

void take_values(Board& board) {
    for (auto& part : board.parts) {
        part.taken_for.reset();
        part.taken_spread = 0;
    }
    std::vector<int> without;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (wants_one(board.part(i))) without.push_back(i);
    const bool may_lack_turns = board.mains && std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) {
                                    return p.kind == PartKind::Transformer && p.turns.empty();
                                });
    if (without.empty() && !may_lack_turns) return;
    const Taker taker(board);
    std::vector<std::optional<Taken>> values;
    for (int i : without) values.push_back(taker.value(i));
    for (std::size_t k = 0; k < without.size(); ++k) {
        if (!values[k]) continue;
        Part& part = board.parts[static_cast<std::size_t>(without[k])];
        part.taken_for = values[k]->value;
        part.taken_spread = values[k]->spread;
    }
    if (const int line = taker.line_transformer(); line >= 0 && board.part(line).turns.empty()) take_turns(board, line, taker);
}

} // namespace ohmo
