// SPDX-License-Identifier: GPL-3.0-or-later
// A bulk capacitor that dries out or opens lets the valley sink: the peak current rises inversely as the valley, the dissipation as its
// square, against the switch's thermal headroom.
#include "base/statistics.h"
#include "damage/causes/cause.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo::causes {

bool Case::shorted() const {
    return fault.mode == FaultMode::Short || fault.mode == FaultMode::DsShort || fault.mode == FaultMode::CeShort;
}

FaultMode switch_short(PartKind kind) {
    return kind == PartKind::Mosfet || kind == PartKind::IntegratedSwitch ? FaultMode::DsShort : FaultMode::CeShort;
}

void switch_breaks(const Case& on, Cause cause, double value, double limit, double spread, std::vector<Consequence>& out) {
    const auto& switches = on.roles.switches;
    for (int i : switches)
        out.push_back(consequence({.fault = {i, switch_short(on.board.part(i).kind), {}},
                                   .cause = cause,
                                   .value = value,
                                   .limit = limit,
                                   .chance = exceedance(value / limit, spread) / static_cast<double>(switches.size())}));
}

void switch_heat(const Case& on, std::vector<Consequence>& out) {
    const auto& p = on.practice();
    const auto& bulk = on.roles.bulk;
    const bool dry = on.fault.mode == FaultMode::Dry;
    if (!on.offline() || std::find(bulk.begin(), bulk.end(), on.fault.part) == bulk.end() || (!dry && on.fault.mode != FaultMode::Open))
        return;
    const double crest = std::numbers::sqrt2 * on.board.mains->volts;
    const double before = bulk_valley(on.board, on.roles, 1.0);
    const double after = std::max(bulk_valley(on.board, on.roles, dry ? p.dry_capacitance : p.open_bulk_share), crest / 3);
    switch_breaks(on, Cause::SwitchHeat, std::pow(before / after, 2), p.thermal_headroom, p.thermal_headroom_spread, out);
}

} // namespace ohmo::causes
