// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/droppers.h"

#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/roles.h"

#include <algorithm>

namespace ohmo {
namespace {

bool may_drop(const Practice& p, const Part& part) {
    if (part.kind != PartKind::XCapacitor && part.kind != PartKind::Film && part.kind != PartKind::Ceramic) return false;
    const auto nominal = likely_value(part);
    return nominal && nominal->farads.value_or(0) >= p.dropper_farads;
}

} // namespace

std::vector<NetId> dropper_goals(const Board& board, const BoardRoles& t) {
    if (t.hv >= 0) return {t.hv, t.primary_ground};
    if (board.rails.empty()) return {};
    return {board.rails.front().net_id, board.rails.front().return_id};
}

std::vector<int> find_droppers(const Board& board, const PowerPath& path, const std::vector<NetId>& goals) {
    const auto& inlet = path.entry();
    if (!board.mains || inlet.size() < 2) return {};
    const auto reaches = [&](NetId net) {
        const auto reached = either_way(path, net);
        return std::any_of(goals.begin(), goals.end(), [&](NetId goal) { return within(reached, goal); });
    };
    const bool first = reaches(inlet[0]), second = reaches(inlet[1]);
    if (first == second) return {};
    const auto barred = either_way(path, first ? inlet[1] : inlet[0]),
               other = path.stiff_reach({first ? inlet[0] : inlet[1]}, PowerPath::Way::Wire, -1);
    std::vector<int> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (!may_drop(board.practice(), part)) continue;
        for (const auto& [near, far] : {std::pair(part.pins[0].id, part.pins[1].id), std::pair(part.pins[1].id, part.pins[0].id)})
            if (within(barred, near) && far >= 0 && !within(barred, far) && !within(other, far) && reaches(far)) out.push_back(i);
    }
    return out;
}

} // namespace ohmo
