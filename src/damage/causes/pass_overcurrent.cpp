// SPDX-License-Identifier: GPL-3.0-or-later
// A pass transistor carries what the reservoir can drive into a short on its rail until a fuse stops it: with one that is too large,
// nothing does.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <algorithm>
#include <cmath>

namespace ohmo::causes {
namespace {

// Of the short and the emitter resistors ahead of it.
double path_ohms(const Case& on, const Part& pass) {
    double ohms = on.practice().dead_short_ohms;
    for (const auto& emitter : on.board.parts) {
        if (!is_resistor_like(emitter.kind) || (emitter.pins[0].id != pass.net("E") && emitter.pins[1].id != pass.net("E"))) continue;
        const auto n = likely_value(emitter);
        if (n && n->ohms.value_or(1e9) <= on.practice().sense_ohms) ohms += *n->ohms;
    }
    return ohms;
}

} // namespace

void pass_overcurrent(const Case& on, std::vector<Consequence>& out) {
    if (!on.shorted() || on.roles.pass.empty()) return;
    const auto& p = on.practice();
    for (std::size_t r = 0; r < on.board.rails.size(); ++r) {
        const auto& rail = on.board.rails[r];
        if (!on.part().touches(rail.net_id) || !on.part().touches(rail.return_id)) continue;
        for (int i : on.roles.pass) {
            const auto& pass = on.board.part(i);
            const auto nominal = likely_value(pass);
            if (!on.roles.path.rail_nets(r)[static_cast<std::size_t>(pass.net("E"))] || !nominal || !nominal->amps) continue;
            const double amps = p.regulator_spare * std::fabs(rail.volts) / path_ohms(on, pass), limit = p.pass_pulse * *nominal->amps;
            out.push_back(
                consequence({.fault = {i, FaultMode::CeShort, {}},
                             .cause = Cause::Overcurrent,
                             .value = amps,
                             .limit = limit,
                             .chance = exceedance(amps / limit, p.pass_pulse_spread) * (on.oversized_fuse ? 1 : p.pass_dies_first)}));
        }
    }
}

} // namespace ohmo::causes
