// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/shunt_rails.h"

#include "board/nominal.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

// Brings current to the net, or may.
bool feeds(const Part& part, NetId net, bool negative) {
    switch (part.kind) {
    case PartKind::Diode:
    case PartKind::Schottky:
        return part.net(negative ? "A" : "K") == net;
    case PartKind::Regulator:
        return part.net("OUT") == net;
    case PartKind::BjtNpn:
    case PartKind::BjtPnp:
        return part.net("C") == net || part.net("E") == net;
    case PartKind::Mosfet:
    case PartKind::Igbt:
    case PartKind::IntegratedSwitch:
    case PartKind::Bridge:
    case PartKind::Transformer:
    case PartKind::Inductor:
    case PartKind::Choke:
    case PartKind::Fuse:
    case PartKind::Switch:
    case PartKind::Relay:
        return part.touches(net);
    default:
        return false;
    }
}

} // namespace

std::vector<ShuntRail> find_shunt_rails(const Board& board) {
    std::vector<ShuntRail> out;
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const Rail& rail = board.rails[r];
        const bool negative = rail.volts < 0;
        ShuntRail found{static_cast<int>(r), {}};
        bool fed = rail.net_id < 0, held = false;
        for (int i = 0; i < static_cast<int>(board.parts.size()) && !fed; ++i) {
            const Part& part = board.part(i);
            if (!part.touches(rail.net_id)) continue;
            fed = feeds(part, rail.net_id, negative);
            const auto value = likely_value(part);
            if (part.kind == PartKind::Zener && part.net(negative ? "A" : "K") == rail.net_id && part.touches(rail.return_id)) {
                held = held ||
                       (value && value->volts &&
                        std::fabs(*value->volts - std::fabs(rail.volts)) <= board.practice().shunt_volts_apart * std::fabs(rail.volts));
            } else if ((part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor) && !part.touches(rail.return_id)) {
                if (value && value->ohms && *value->ohms <= board.practice().shunt_feed_ohms) found.feeds.push_back(i);
            }
        }
        if (!fed && held && !found.feeds.empty()) out.push_back(std::move(found));
    }
    return out;
}

} // namespace ohmo
