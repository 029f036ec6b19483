// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/taken_capacitors.h"

#include "board/switch_ends.h"

#include <algorithm>
#include <utility>

namespace ohmo {
namespace {

bool holds(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

// What comes in gets there by contacts, fuses, coils and diodes.
bool behind_the_inlet(const Board& board, const BoardRoles& roles, NetId net) {
    std::vector<char> reached(board.nets.size(), 0);
    for (NetId n : roles.inlet) reached[static_cast<std::size_t>(n)] = 1;
    const auto pass = [&](NetId from, NetId to) {
        return from >= 0 && to >= 0 && reached[static_cast<std::size_t>(from)] != 0 &&
               !std::exchange(reached[static_cast<std::size_t>(to)], 1);
    };
    for (bool grew = true; grew;) {
        grew = false;
        for (const auto& part : board.parts) {
            if (part.kind == PartKind::Diode || part.kind == PartKind::Schottky) {
                grew = pass(part.net("A"), part.net("K")) || grew;
                continue;
            }
            const bool passes = part.kind == PartKind::Connector || part.kind == PartKind::Fuse || part.kind == PartKind::Switch ||
                                part.kind == PartKind::Choke || part.kind == PartKind::Track || part.kind == PartKind::Inductor ||
                                part.kind == PartKind::Thermistor;
            if (!passes) continue;
            for (const auto& [a, b] : part.pairs())
                if (a != nullptr && b != nullptr) grew = pass(a->id, b->id) || pass(b->id, a->id) || grew;
        }
    }
    return reached[static_cast<std::size_t>(net)] != 0;
}

// Across a rail, or a chip's supply.
bool bypasses(const Board& board, const Part& part) {
    return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return joins(part, r.net_id, r.return_id); }) ||
           std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& other) {
               const bool chip =
                   is_controller(other.kind) && joins(part, other.net(chip_pins(other).supply), other.net(chip_pins(other).ground));
               const bool regulator = other.kind == PartKind::Regulator && other.net("GND") >= 0 && part.touches(other.net("GND")) &&
                                      (part.touches(other.net("IN")) || part.touches(other.net("OUT")));
               const bool beside = is_wet_or_solid_electrolytic(other.kind) && joins(part, other.net("+"), other.net("-"));
               return chip || regulator || beside;
           });
}

bool regulated(const Board& board, NetId net) {
    return std::any_of(board.parts.begin(), board.parts.end(),
                       [&](const Part& other) { return other.kind == PartKind::Regulator && net >= 0 && other.net("OUT") == net; });
}

} // namespace

Taken taken_capacitor(const Board& board, const BoardRoles& roles, int index) {
    const Part& part = board.part(index);
    const Practice& p = board.practice();
    if (part.kind == PartKind::XCapacitor) return {p.line_farads, p.line_farads_spread};
    if (part.kind == PartKind::YCapacitor) return {p.barrier_farads, p.barrier_farads_spread};
    if (part.kind == PartKind::Film) return {p.taken_film_farads, p.taken_film_farads_spread};
    if (part.kind == PartKind::Tantalum) return {p.taken_tantalum_farads, p.taken_tantalum_farads_spread};
    if (!is_wet_or_solid_electrolytic(part.kind))
        return bypasses(board, part) ? Taken{p.taken_bypass_farads, p.taken_bypass_farads_spread} : Taken{p.small_farads};
    const Taken rail{p.taken_rail_farads, p.taken_rail_farads_spread}, supply{p.taken_supply_farads, p.taken_supply_farads_spread};
    const bool high = part.volts.value_or(0) > p.taken_line_side_volts, bulk = holds(roles.bulk, index);
    const NetId plus = part.net("+");
    if (bulk && (high || !part.volts)) {
        const double all = p.taken_bulk_farads * std::max(roles.input_watts, 1.0);
        const auto count = static_cast<double>(roles.bulk.size());
        return {roles.stacked ? all * count : all / count, p.taken_bulk_farads_spread};
    }
    if (bulk || (!board.mains && plus >= 0 && behind_the_inlet(board, roles, plus))) return high ? Taken{p.electrolytic_farads} : rail;
    if (holds(roles.supply_capacitors, index)) return supply;
    if (high) return {p.electrolytic_farads};
    if (regulated(board, plus)) return {p.taken_regulated_farads, p.taken_regulated_farads_spread};
    const bool on_a_rail = std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return part.touches(r.return_id); }) &&
                           (part.stage == "smooth" || part.stage == "rails");
    return on_a_rail ? rail : supply;
}

} // namespace ohmo
