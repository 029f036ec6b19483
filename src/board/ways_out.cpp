// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/ways_out.h"

#include "board/mains_side.h"
#include "board/net_sets.h"
#include "board/nominal.h"

#include <algorithm>
#include <utility>

namespace ohmo {
namespace {

bool carries_current(const Part& part, const Practice& p) {
    if (part.stage == "mains-in") return false;
    if (part.kind != PartKind::Resistor) return hands_on(part.kind);
    const auto value = nominal_or_none(part);
    return value && value->ohms && *value->ohms <= p.hands_on_ohms;
}

struct Links {
    std::vector<std::vector<std::vector<NetId>>> of; ///< by part: see joined_nets

    // All that `from` leads to, not by way of `other`, were `without` open.
    NetSet from(NetId from, NetId other, int without, std::size_t nets) const {
        NetSet out(nets, 0);
        out[static_cast<std::size_t>(from)] = 1;
        for (bool grows = true; grows;) {
            grows = false;
            for (std::size_t p = 0; p < of.size(); ++p) {
                if (static_cast<int>(p) == without) continue;
                for (const auto& group : of[p]) {
                    const auto on = [&](NetId n) { return within(out, n); };
                    if (listed(group, other) || std::none_of(group.begin(), group.end(), on) || std::all_of(group.begin(), group.end(), on))
                        continue;
                    for (NetId n : group)
                        if (n >= 0) grows = std::exchange(out[static_cast<std::size_t>(n)], 1) == 0 || grows;
                }
            }
        }
        return out;
    }
};

bool takes_current_away(const Part& part) {
    return part.kind == PartKind::Load || (part.kind == PartKind::Connector && part.stage != "mains-in");
}

} // namespace

std::vector<char> ways_out(const Board& board) {
    std::vector<char> out(board.parts.size(), 0);
    Links links;
    for (const auto& part : board.parts)
        links.of.push_back(carries_current(part, board.practice()) ? joined_nets(part) : std::vector<std::vector<NetId>>{});
    std::vector<std::pair<NetId, NetId>> sides;
    for (const auto& rail : board.rails) {
        sides.emplace_back(rail.net_id, rail.return_id);
        sides.emplace_back(rail.return_id, rail.net_id);
    }
    for (const auto& [from, other] : sides) {
        if (from < 0) continue;
        const NetSet whole = links.from(from, other, -1, board.nets.size());
        for (std::size_t p = 0; p < out.size(); ++p) {
            if (links.of[p].empty() || out[p] != 0) continue;
            const NetSet left = links.from(from, other, static_cast<int>(p), board.nets.size());
            for (const auto& part : board.parts)
                for (const auto& pin : part.pins)
                    if (within(whole, pin.id) && !within(left, pin.id) && takes_current_away(part)) out[p] = 1;
        }
    }
    return out;
}

} // namespace ohmo
