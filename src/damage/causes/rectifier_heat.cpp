// SPDX-License-Identifier: GPL-3.0-or-later
// A shorted output asks more than the rail's current of its rectifier.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <algorithm>

namespace ohmo::causes {

void rectifier_heat(const Case& on, std::vector<Consequence>& out) {
    const auto& part = on.part();
    if (!on.shorted() || on.roles.line_fed() || (part.stage != "smooth" && part.stage != "rails")) return;
    const auto& p = on.practice();
    for (std::size_t r = 0; r < on.board.rails.size(); ++r) {
        const auto& nets = on.roles.path.rail_nets(r);
        const auto on_rail = [&](NetId net) { return net >= 0 && nets[static_cast<std::size_t>(net)]; };
        if (std::none_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) { return on_rail(pin.id); })) continue;
        for (int i : on.roles.rectifiers) {
            const auto& diode = on.board.part(i);
            const auto nominal = likely_value(diode);
            if (!is_diode_like(diode.kind) || i == on.fault.part || !on_rail(diode.net("K")) || !nominal || !nominal->amps) continue;
            const double amps = p.overload_share * on.board.rails[r].amps;
            out.push_back(consequence({.fault = {i, FaultMode::Short, {}},
                                       .cause = Cause::RectifierHeat,
                                       .value = amps,
                                       .limit = *nominal->amps,
                                       .chance = exceedance(amps / *nominal->amps, p.overload_share_spread)}));
        }
    }
}

} // namespace ohmo::causes
