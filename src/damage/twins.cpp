// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/twins.h"

#include <map>
#include <numeric>

namespace ohmo {

std::vector<std::vector<int>> twins(const Board& board) {
    std::vector<NetId> joined(board.nets.size()); // towards the net that stands for all that windings join to it
    std::iota(joined.begin(), joined.end(), 0);
    const auto root = [&](NetId net) {
        while (joined[static_cast<std::size_t>(net)] != net) net = joined[static_cast<std::size_t>(net)];
        return net;
    };
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Transformer && part.kind != PartKind::Choke && part.kind != PartKind::Inductor) continue;
        for (const auto& [a, b] : part.pairs()) joined[static_cast<std::size_t>(root(a->id))] = root(b->id);
    }
    std::map<std::pair<NetId, NetId>, std::vector<int>> between;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_diode_like(part.kind)) continue;
        const NetId anode = root(part.net("A")), cathode = root(part.net("K"));
        if (anode != cathode) between[{anode, cathode}].push_back(i); // else a winding lies across it and hides it, twin or none
    }
    std::vector<std::vector<int>> out(board.parts.size());
    for (const auto& [ends, diodes] : between)
        for (int i : diodes)
            for (int other : diodes)
                if (other != i) out[static_cast<std::size_t>(i)].push_back(other);
    return out;
}

} // namespace ohmo
