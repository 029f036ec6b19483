// SPDX-License-Identifier: GPL-3.0-or-later
// In a totem pole the healthy switch turns on against the shorted one, with the bulk capacitor behind both; or it holds out until the fuse
// goes.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <numbers>

namespace ohmo::causes {

void totem_pole(const Case& on, std::vector<Consequence>& out) {
    if (!on.shorted() || !on.board.mains) return;
    const auto& p = on.practice();
    for (const auto& [i, other] : on.roles.totem_poles) {
        const auto nominal = likely_value(on.board.part(i));
        if (other != on.fault.part || !nominal || !nominal->amps) continue;
        const double amps = std::numbers::sqrt2 * on.board.mains->volts / (p.dead_short_ohms + p.switch_on_ohms);
        const double limit = p.pulse_share * *nominal->amps;
        out.push_back(consequence({.fault = {i, switch_short(on.board.part(i).kind), {}},
                                   .cause = Cause::Overcurrent,
                                   .value = amps,
                                   .limit = limit,
                                   .chance = p.turns_on * exceedance(amps / limit, p.pulse_share_spread)}));
        for (int f : on.roles.input_fuses)
            out.push_back(consequence({.fault = {f, FaultMode::Open, {}},
                                       .cause = Cause::Overcurrent,
                                       .value = amps,
                                       .limit = p.fuse_melts_above * *likely_value(on.board.part(f))->amps,
                                       .chance = p.turns_on * p.fuse_goes_first}));
    }
}

} // namespace ohmo::causes
