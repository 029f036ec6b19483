// SPDX-License-Identifier: GPL-3.0-or-later
// Without its snubber the drain rises to mains crest + reflected volts + peak current * sqrt(leakage inductance / drain capacitance),
// against rated volts and what the switch stands in avalanche.
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo::causes {
namespace {

double drain_peak(const Case& on) {
    const auto& p = on.practice();
    const auto nominal = likely_value(on.board.part(on.roles.transformer));
    const double henry = nominal && nominal->henry ? *nominal->henry : p.winding_henry;
    const double crest = std::numbers::sqrt2 * on.board.mains->volts;
    const double valley = std::max(bulk_valley(on.board, on.roles, 1.0), crest / 2);
    const double amps = p.peak_over_mean * on.roles.input_watts / (p.switch_duty * valley);
    return crest * (1 + p.switch_duty) + amps * std::sqrt(p.leakage_share * henry / p.drain_farads);
}

} // namespace

void drain_volts(const Case& on, std::vector<Consequence>& out) {
    const auto& snubber = on.roles.snubber;
    if (!on.offline() || on.roles.transformer < 0) return; // no leakage inductance to clamp
    if (on.fault.mode != FaultMode::Open || std::find(snubber.begin(), snubber.end(), on.fault.part) == snubber.end()) return;
    const auto& p = on.practice();
    const auto nominal = likely_value(on.board.part(on.roles.power_switch));
    const double rated = nominal && nominal->volts ? *nominal->volts : p.unrated_switch_volts;
    switch_breaks(on, Cause::DrainVolts, drain_peak(on), p.avalanche_share * rated, p.avalanche_share_spread, out);
}

} // namespace ohmo::causes
