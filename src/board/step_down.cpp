// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/step_down.h"

#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/roles.h"
#include "board/switch_ends.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ohmo {
namespace {

bool on_a_coil(const Board& board, NetId net) {
    return net >= 0 && std::any_of(board.parts.begin(), board.parts.end(),
                                   [&](const Part& p) { return p.kind == PartKind::Inductor && p.touches(net); });
}

// The two ends of what conducts inside; one of them switches a coil.
std::vector<NetId> switched_between(const Board& board, const Part& part) {
    if (is_switch_device(part.kind)) return {switch_ends(part).high, switch_ends(part).low};
    const auto pins = chip_pins(part);
    if (part.kind == PartKind::IntegratedSwitch) return {part.net(pins.high), part.net(pins.low)};
    if (const NetId node = inner_node(board, part); node >= 0) return {part.net(pins.supply), node};
    return {};
}

// A rail's own, the bulk capacitor's, or what the capacitors there were chosen for.
double volts_at(const Board& board, const BoardRoles& roles, NetId from) {
    const NetSet there = roles.path.wired_to({from}, {});
    for (const auto& rail : board.rails)
        if (within(there, rail.net_id)) return std::fabs(rail.volts);
    if (board.mains && within(there, roles.hv)) return bulk_volts(board, roles);
    std::optional<double> rated;
    for (const auto& part : board.parts) {
        if (!is_wet_or_solid_electrolytic(part.kind) || !within(there, part.net("+"))) continue;
        const auto value = likely_value(part);
        if (value && value->volts) rated = std::min(rated.value_or(*value->volts), *value->volts);
    }
    return rated ? *rated / board.practice().rating_margin : board.practice().unknown_input_volts;
}

} // namespace

NetId inner_node(const Board& board, const Part& chip) {
    if (chip.kind != PartKind::Controller) return -1;
    const NetId supply = chip.net(chip_pins(chip).supply);
    for (const auto pin : chip_outputs(chip)) {
        const NetId node = chip.net(pin);
        if (supply < 0 || node < 0 || node == supply || !on_a_coil(board, node)) continue;
        const bool from_the_supply = std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& coil) {
            return coil.kind == PartKind::Inductor && coil.touches(node) && coil.touches(supply);
        });
        if (!from_the_supply) return node;
    }
    return -1;
}

bool may_fail(const Board& board, const Part& part, FaultMode mode) {
    if (mode == FaultMode::OutputShort && is_controller(part.kind)) return !chip_outputs(part).empty();
    if (mode == FaultMode::DsShort && part.kind == PartKind::Controller) return inner_node(board, part) >= 0;
    return mode_applies(part.kind, mode);
}

bool StepDown::through(const Fault& fault) const {
    return fault.part == part && (fault.mode == FaultMode::DsShort || fault.mode == FaultMode::CeShort || fault.mode == FaultMode::Short);
}

std::vector<StepDown> find_step_downs(const Board& board, const BoardRoles& roles) {
    std::vector<StepDown> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto paired = [&](const auto& pair) { return pair.first == i || pair.second == i; };
        if (std::any_of(roles.totem_poles.begin(), roles.totem_poles.end(), paired)) continue;
        const auto ends = switched_between(board, board.part(i));
        if (ends.size() != 2 || ends[0] < 0 || ends[1] < 0) continue;
        for (const auto& [from, node] : {std::pair{ends[0], ends[1]}, std::pair{ends[1], ends[0]}}) {
            if (!on_a_coil(board, node) || listed(roles.path.returns(), from) || listed(roles.path.returns(), node)) continue;
            StepDown found{i, volts_at(board, roles, from), std::vector<char>(board.rails.size(), 0)};
            const auto behind = roles.path.behind({node}, false), stiff = roles.path.stiff_reach({node}, PowerPath::Way::Forwards, i);
            for (std::size_t r = 0; r < board.rails.size(); ++r) {
                const auto& rail = board.rails[r];
                const NetSet there = roles.path.wired_to({rail.net_id}, {});
                const bool led_there = within(there, node) || (within(behind, rail.net_id) && within(stiff, rail.net_id)); // by a diode too
                found.rails[r] =
                    rail.volts > 0 && found.volts > board.practice().stepped_down_from * rail.volts && led_there && !within(there, from);
            }
            if (std::find(found.rails.begin(), found.rails.end(), 1) != found.rails.end()) out.push_back(std::move(found));
        }
    }
    return out;
}

} // namespace ohmo
