// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/ways_out.h"

#include "board/net_sets.h"
#include "board/nominal.h"

#include <utility>

namespace ohmo {
namespace {

constexpr double kHardlyAny = 2; // ohm, of what a rail's whole current may pass

std::vector<std::pair<NetId, NetId>> carries(const Part& part) {
    switch (part.kind) {
    case PartKind::Connector:
    case PartKind::Choke: {
        std::vector<std::pair<NetId, NetId>> out;
        for (const auto& [one, other] : part.pairs())
            if (one != nullptr && other != nullptr) out.emplace_back(one->id, other->id);
        return out;
    }
    case PartKind::Resistor: {
        const auto value = nominal_or_none(part);
        if (!value || !value->ohms || *value->ohms > kHardlyAny) return {};
        break;
    }
    case PartKind::Fuse:
    case PartKind::FusibleResistor:
    case PartKind::Thermistor:
    case PartKind::Inductor:
    case PartKind::Track:
    case PartKind::Switch:
        break;
    default:
        return {};
    }
    if (part.pins.size() != 2) return {};
    return {{part.pins[0].id, part.pins[1].id}};
}

struct Links {
    std::vector<std::vector<std::pair<NetId, NetId>>> of; ///< by part

    // All that `from` leads to, not by way of `other`, were `without` open.
    NetSet from(NetId from, NetId other, int without, std::size_t nets) const {
        NetSet out(nets, 0);
        out[static_cast<std::size_t>(from)] = 1;
        for (bool grows = true; grows;) {
            grows = false;
            for (std::size_t p = 0; p < of.size(); ++p) {
                if (static_cast<int>(p) == without) continue;
                for (const auto& [one, two] : of[p]) {
                    if (one < 0 || two < 0 || one == other || two == other || within(out, one) == within(out, two)) continue;
                    out[static_cast<std::size_t>(one)] = out[static_cast<std::size_t>(two)] = 1;
                    grows = true;
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
    for (const auto& part : board.parts) links.of.push_back(part.stage == "mains-in" ? decltype(carries(part)){} : carries(part));
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
