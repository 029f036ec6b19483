// SPDX-License-Identifier: GPL-3.0-or-later
// A base-drive capacitor that dries lets the drive current fall as (R + ESR) rises, and the switch heats up by as much as it leaves
// saturation. An integrated switch drives its own gate from the supply pin: a dry capacitor there lets it sag towards the lock-out at every
// pulse, and the switch's resistance rises about as the square; mostly it only stops.
#include "base/statistics.h"
#include "board/nominal.h"
#include "circuit/netlist.h"
#include "damage/causes/cause.h"

#include <algorithm>
#include <cmath>
#include <span>

namespace ohmo::causes {
namespace {

double capacitor_esr(const Board& board, int part, std::span<const Fault> faults) {
    const auto net = expand_part(board, part, faults);
    return net.capacitors.empty() ? 0 : net.capacitors.front().esr;
}

} // namespace

void weak_drive(const Case& on, std::vector<Consequence>& out) {
    const auto& p = on.practice();
    if (on.part().kind != PartKind::Electrolytic || on.fault.mode != FaultMode::Dry) return;
    for (int i : on.roles.switches) {
        const NetId base = on.board.part(i).net("B");
        for (int d : on.roles.drive_path) {
            const auto& resistor = on.board.part(d);
            if (base < 0 || !is_resistor_like(resistor.kind) || !resistor.touches(base)) continue;
            const NetId far = resistor.pins[0].id == base ? resistor.pins[1].id : resistor.pins[0].id;
            if (!on.part().touches(far)) continue;
            const auto nominal = likely_value(resistor);
            const double ohms = nominal ? nominal->ohms.value_or(p.unknown_drive_ohms) : p.unknown_drive_ohms;
            const double ratio = (ohms + capacitor_esr(on.board, on.fault.part, std::vector<Fault>{on.fault})) /
                                 (ohms + capacitor_esr(on.board, on.fault.part, {}));
            out.push_back(consequence({.fault = {i, switch_short(on.board.part(i).kind), {}},
                                       .cause = Cause::WeakDrive,
                                       .value = ratio,
                                       .limit = p.thermal_headroom,
                                       .chance = exceedance(ratio / p.thermal_headroom, p.thermal_headroom_spread)}));
        }
    }
}

void own_supply_sags(const Case& on, std::vector<Consequence>& out) {
    const auto& p = on.practice();
    const int sw = on.roles.power_switch;
    const auto& supply = on.roles.supply_capacitors;
    if (sw < 0 || on.board.part(sw).kind != PartKind::IntegratedSwitch || on.fault.mode != FaultMode::Dry ||
        std::find(supply.begin(), supply.end(), on.fault.part) == supply.end())
        return;
    const auto nominal = likely_value(on.board.part(sw));
    if (!nominal || !nominal->start_volts || !nominal->stop_volts || *nominal->stop_volts <= 0) return;
    const double heat = std::pow(*nominal->start_volts / *nominal->stop_volts, 2);
    out.push_back(consequence({.fault = {sw, switch_short(on.board.part(sw).kind), {}},
                               .cause = Cause::WeakDrive,
                               .value = heat,
                               .limit = p.thermal_headroom,
                               .chance = p.keeps_running * exceedance(heat / p.thermal_headroom, p.thermal_headroom_spread)}));
}

} // namespace ohmo::causes
