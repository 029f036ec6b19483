// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/rail_sides.h"

#include "board/net_sets.h"

#include <numeric>
#include <utility>

namespace ohmo {
namespace {

std::vector<std::pair<NetId, NetId>> wires(const Part& part) {
    std::vector<std::pair<NetId, NetId>> out;
    if (part.kind == PartKind::Inductor || part.kind == PartKind::Track) out.emplace_back(part.pins[0].id, part.pins[1].id);
    if (part.kind == PartKind::Connector || part.kind == PartKind::Choke)
        for (const auto& [one, other] : part.pairs())
            if (one != nullptr && other != nullptr) out.emplace_back(one->id, other->id);
    return out;
}

} // namespace

std::vector<char> joined_without_loss(const Board& board, NetId from, NetId other) {
    NetSet out(board.nets.size(), 0);
    if (from < 0) return out;
    out[static_cast<std::size_t>(from)] = 1;
    for (bool grows = true; grows;) {
        grows = false;
        for (const auto& part : board.parts)
            for (const auto& [one, two] : wires(part)) {
                if (within(out, one) == within(out, two) || one == other || two == other) continue;
                out[static_cast<std::size_t>(one)] = out[static_cast<std::size_t>(two)] = 1;
                grows = true;
            }
    }
    return out;
}

std::vector<NetId> rail_sides(const Board& board) {
    std::vector<NetId> out(board.nets.size());
    std::iota(out.begin(), out.end(), 0);
    const auto give = [&](NetId to, NetId other) {
        const auto joined = joined_without_loss(board, to, other);
        for (std::size_t n = 0; n < out.size(); ++n)
            if (joined[n] != 0 && out[n] == static_cast<NetId>(n)) out[n] = to;
    };
    for (const auto& rail : board.rails) {
        give(rail.net_id, rail.return_id);
        give(rail.return_id, rail.net_id);
    }
    for (const auto& rail : board.rails) // behind a coil of another one, too
        if (rail.net_id >= 0) out[static_cast<std::size_t>(rail.net_id)] = rail.net_id;
    return out;
}

} // namespace ohmo
