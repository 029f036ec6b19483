// SPDX-License-Identifier: GPL-3.0-or-later
// Rails that climb: with the feedback path open, all of the converter; with a switch before their coil through, to what feeds that. What
// clamps a rail breaks first, else its capacitors, and what runs on it. A crowbar fires before either.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <cmath>

namespace ohmo::causes {
namespace {

struct Climb {
    const Rail& rail;
    double volts;
    NetId high, low;
};

// Volts that the rail gets to; 0 where it stays.
double climbs_to(const Case& on, std::size_t r) {
    double volts = 0;
    for (const auto& step : on.roles.step_downs)
        if (step.rails[r] != 0 && step.through(on.fault)) volts = std::max(volts, step.volts);
    if (on.roles.power_switch >= 0 && on.roles.loop.loss(on.board, on.fault) == LoopLoss::Climbs)
        volts = std::max(volts, std::fabs(on.board.rails[r].volts) * on.practice().climb);
    return volts;
}

bool fires_a_crowbar(const Case& on, const Climb& to, std::vector<Consequence>& out) {
    bool fired = false;
    for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
        const auto& part = on.board.part(i);
        if (part.kind != PartKind::Thyristor || part.net("A") != to.high || part.net("K") != to.low) continue;
        fired = true;
        out.push_back(consequence({.fault = {i, FaultMode::Short, {}},
                                   .cause = Cause::OutputClimbs,
                                   .value = to.volts,
                                   .limit = std::fabs(to.rail.volts),
                                   .chance = on.practice().crowbar_dies}));
    }
    return fired;
}

void breaks_clamps_and_capacitors(const Case& on, const Climb& to, std::vector<Consequence>& out) {
    const auto& p = on.practice();
    for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
        const auto& part = on.board.part(i);
        const auto nominal = likely_value(part);
        if (!nominal || !nominal->volts) continue;
        const bool clamps = part.kind == PartKind::Zener && part.net("K") == to.high && part.net("A") == to.low;
        const bool leaks =
            is_wet_or_solid_electrolytic(part.kind) && part.net("+") == to.high && (to.rail.volts >= 0 || part.net("-") == to.low);
        if (!clamps && !leaks) continue;
        const double limit = *nominal->volts * (clamps ? p.clamp_share : p.overvolt_share);
        const double chance = clamps ? exceedance(to.volts / limit, p.clamp_share_spread)
                                     : p.overvolt_leaks * exceedance(to.volts / limit, p.overvolt_share_spread);
        out.push_back(consequence({.fault = {i, clamps ? FaultMode::Short : FaultMode::Leaky, {}},
                                   .cause = Cause::OutputClimbs,
                                   .value = to.volts,
                                   .limit = limit,
                                   .chance = chance}));
    }
}

// By what is let through, which nothing limits: chips and loads that the rail feeds itself. What takes it for an input is made for a wide
// one.
void breaks_what_runs_on_it(const Case& on, const Climb& to, std::vector<Consequence>& out) {
    const auto& p = on.practice();
    for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
        const auto& part = on.board.part(i);
        const auto pins = chip_pins(part);
        const bool load = part.kind == PartKind::Load && part.touches(to.high) && part.touches(to.low);
        const bool chip = part.kind == PartKind::Controller && part.net(pins.supply) == to.high && part.net(pins.ground) == to.low;
        if (!load && !chip) continue;
        const double limit = p.runs_on_stands * std::fabs(to.rail.volts) * (chip && !pins.own_supply ? p.wide_input_factor : 1);
        out.push_back(consequence({.fault = {i, load ? FaultMode::Short : FaultMode::SupplyShort, {}},
                                   .cause = Cause::OutputClimbs,
                                   .value = to.volts,
                                   .limit = limit,
                                   .chance = p.runs_on_breaks * exceedance(to.volts / limit, p.runs_on_stands_spread)}));
    }
}

} // namespace

void output_climbs(const Case& on, std::vector<Consequence>& out) {
    for (std::size_t r = 0; r < on.board.rails.size(); ++r) {
        const auto& rail = on.board.rails[r];
        const double volts = climbs_to(on, r);
        if (volts <= 0) continue;
        const Climb to{rail, volts, rail.volts < 0 ? rail.return_id : rail.net_id, rail.volts < 0 ? rail.net_id : rail.return_id};
        if (fires_a_crowbar(on, to, out)) continue;
        breaks_clamps_and_capacitors(on, to, out);
        if (volts > on.practice().climb * std::fabs(rail.volts)) breaks_what_runs_on_it(on, to, out);
    }
}

} // namespace ohmo::causes
