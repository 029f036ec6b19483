// SPDX-License-Identifier: GPL-3.0-or-later
// An open feedback path lets every rail climb; what clamps a rail breaks first, else its capacitors. A crowbar fires before either.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

namespace ohmo::causes {
void output_climbs(const Case& on, std::vector<Consequence>& out) {
    if (on.roles.power_switch < 0 || on.roles.loop.loss(on.board, on.fault) != LoopLoss::Climbs) return;
    const auto& p = on.practice();
    for (const auto& rail : on.board.rails) {
        const double volts = std::fabs(rail.volts) * p.climb;
        const NetId high = rail.volts < 0 ? rail.return_id : rail.net_id, low = rail.volts < 0 ? rail.net_id : rail.return_id;
        bool fired = false;
        for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
            const auto& part = on.board.part(i);
            if (part.kind != PartKind::Thyristor || part.net("A") != high || part.net("K") != low) continue;
            fired = true;
            out.push_back(consequence({.fault = {i, FaultMode::Short, {}},
                                       .cause = Cause::OutputClimbs,
                                       .value = volts,
                                       .limit = std::fabs(rail.volts),
                                       .chance = p.crowbar_dies}));
        }
        if (fired) continue;
        for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
            const auto& part = on.board.part(i);
            const auto nominal = likely_value(part);
            if (!nominal || !nominal->volts) continue;
            const bool clamps = part.kind == PartKind::Zener && part.net("K") == high && part.net("A") == low;
            const bool leaks =
                is_wet_or_solid_electrolytic(part.kind) && part.net("+") == high && (rail.volts >= 0 || part.net("-") == low);
            if (!clamps && !leaks) continue;
            const double limit = *nominal->volts * (clamps ? p.clamp_share : p.overvolt_share);
            const double chance = clamps ? exceedance(volts / limit, p.clamp_share_spread)
                                         : p.overvolt_leaks * exceedance(volts / limit, p.overvolt_share_spread);
            out.push_back(consequence({.fault = {i, clamps ? FaultMode::Short : FaultMode::Leaky, {}},
                                       .cause = Cause::OutputClimbs,
                                       .value = volts,
                                       .limit = limit,
                                       .chance = chance}));
        }
    }
}

} // namespace ohmo::causes
