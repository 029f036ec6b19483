// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/way_in.h"

#include "board/mains_side.h"
#include "board/net_sets.h"

namespace ohmo {
namespace {

bool at_the_entrance(const Part& part) {
    return (part.stage == "mains-in" || part.stage == "filter") && (hands_on(part.kind) || is_diode_like(part.kind));
}

// Of a part with one: pins on nets of their own on both sides are not traced yet.
std::vector<NetId> loose_ends(const Board& board) {
    std::vector<int> pins(board.nets.size(), 0);
    for (const auto& part : board.parts)
        for (const auto& pin : part.pins) ++pins[static_cast<std::size_t>(pin.id)];
    std::vector<NetId> out;
    for (const auto& part : board.parts) {
        if (!at_the_entrance(part)) continue;
        for (const auto& group : joined_nets(part)) {
            std::vector<NetId> loose;
            for (NetId n : group)
                if (n >= 0 && pins[static_cast<std::size_t>(n)] == 1) loose.push_back(n);
            if (loose.size() == 1 && group.size() == 2) out.push_back(loose.front());
        }
    }
    return out;
}

// From one side of the line, what stands across it leads to the other.
NetId across_the_line(const Board& board, NetId contact) {
    const auto side = nets_along(board, {contact}, !board.mains);
    const auto other = [&](const Part& part, const char* one, const char* two) -> NetId {
        const NetId a = part.net(one), b = part.net(two);
        if (a < 0 || b < 0 || within(side, a) == within(side, b)) return -1;
        return within(side, a) ? b : a;
    };
    for (const auto kind : {PartKind::Varistor, PartKind::XCapacitor, PartKind::Zener, PartKind::Resistor, PartKind::Film})
        for (const auto& part : board.parts)
            if (part.kind == kind && (part.stage == "mains-in" || part.stage == "filter"))
                if (const NetId net = other(part, part.pins[0].role.c_str(), part.pins[1].role.c_str()); net >= 0) return net;
    for (const auto& part : board.parts) {
        const bool line = part.kind == PartKind::Bridge || (part.kind == PartKind::Transformer && board.mains);
        const bool bridge = part.kind == PartKind::Bridge;
        if (line)
            if (const NetId net = other(part, bridge ? "~1" : "P1", bridge ? "~2" : "P2"); net >= 0) return net;
        if (!board.mains && is_wet_or_solid_electrolytic(part.kind))
            if (const NetId net = other(part, "+", "-"); net >= 0) return net;
    }
    return -1;
}

} // namespace

std::vector<NetId> loose_contacts(const Board& board) {
    const auto loose = loose_ends(board);
    if (loose.empty()) return {};
    const auto side = nets_along(board, {loose.front()}, false);
    for (NetId n : loose)
        if (!within(side, n)) return {loose.front(), n};
    const NetId other = across_the_line(board, loose.front());
    return other >= 0 ? std::vector<NetId>{loose.front(), other} : std::vector<NetId>{};
}

} // namespace ohmo
