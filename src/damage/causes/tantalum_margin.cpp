// SPDX-License-Identifier: GPL-3.0-or-later
// After a tantalum has shorted, its neighbours on the rail meet the next switch-on at the same margin.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <cmath>

namespace ohmo::causes {

void tantalum_margin(const Case& on, std::vector<Consequence>& out) {
    if (on.part().kind != PartKind::Tantalum || on.fault.mode != FaultMode::Short) return;
    const auto& p = on.practice();
    for (std::size_t r = 0; r < on.board.rails.size(); ++r) {
        const auto on_rail = [&](NetId net) { return on.roles.path.rail_nets(r)[static_cast<std::size_t>(net)] != 0; };
        if (!on_rail(on.part().net("+"))) continue;
        for (int i = 0; i < static_cast<int>(on.board.parts.size()); ++i) {
            const auto& part = on.board.part(i);
            const auto nominal = likely_value(part);
            if (i == on.fault.part || part.kind != PartKind::Tantalum || !on_rail(part.net("+")) || !nominal || !nominal->volts) continue;
            const double volts = std::fabs(on.board.rails[r].volts), limit = p.tantalum_limit * *nominal->volts;
            out.push_back(consequence({.fault = {i, FaultMode::Short, {}},
                                       .cause = Cause::TantalumMargin,
                                       .value = volts,
                                       .limit = limit,
                                       .chance = p.switch_ons * exceedance(volts / limit, p.tantalum_limit_spread)}));
        }
    }
}

} // namespace ohmo::causes
