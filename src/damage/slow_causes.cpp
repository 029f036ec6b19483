// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/slow_causes.h"

#include "circuit/energised.h"
#include "damage/causes/cause.h"

#include <algorithm>

namespace ohmo {

double bulk_valley(const Board& board, const BoardRoles& roles, double share) {
    if (roles.bulk.empty() || !board.mains) return 0;
    return bulk_ripple(board.mains->volts, board.mains->hertz, bulk_farads(board, roles) * share, roles.input_watts).valley_volts;
}

std::vector<Consequence> slow_consequences(const Board& board, const BoardRoles& roles, const Fault& root,
                                           const std::set<std::string>& history) {
    const causes::Case on{board, roles, root, history.contains("oversized-fuse")};
    std::vector<Consequence> out;
    for (const auto cause :
         {causes::switch_heat, causes::drain_volts, causes::output_climbs, causes::weak_drive, causes::pass_overcurrent,
          causes::own_supply_sags, causes::totem_pole, causes::fuse_overcurrent, causes::rectifier_heat, causes::tantalum_margin})
        cause(on, out);
    std::erase_if(out, [&](const Consequence& c) { return c.chance < on.practice().least_consequence; });
    std::stable_sort(out.begin(), out.end(), [](const Consequence& a, const Consequence& b) { return a.chance > b.chance; });
    return out;
}

} // namespace ohmo
