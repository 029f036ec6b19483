// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/chip_pins_lost.h"

#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

// What leads current to this pin of a chip: not from its ground, nor from a pin that it feeds itself.
bool leads_to(const Part& part, NetId net, const Part& chip) {
    if (net < 0 || !part.touches(net)) return false;
    if (part.kind == PartKind::Diode || part.kind == PartKind::Schottky) return part.net("K") == net;
    if (part.kind == PartKind::Regulator) return part.net("OUT") == net;
    if (is_switch_device(part.kind)) return switch_ends(part).control != net;
    if (part.kind == PartKind::Connector || part.kind == PartKind::Switch || part.kind == PartKind::Relay) return true;
    if (!is_resistor_like(part.kind) && part.kind != PartKind::Inductor && part.kind != PartKind::Fuse) return false;
    const NetId far = part.pins[0].id == net ? part.pins[1].id : part.pins[0].id;
    return !chip.touches(far) || far == chip.net(chip_pins(chip).supply);
}

// All that a pin lives by.
bool alone_feeds(const Board& board, const Part& part, NetId net, const Part& chip) {
    return leads_to(part, net, chip) && std::none_of(board.parts.begin(), board.parts.end(),
                                                     [&](const Part& other) { return &other != &part && leads_to(other, net, chip); });
}

NetId enable_of(const Part& chip) {
    for (const char* pin : {"EN", "ENA", "ENABLE", "RUN", "UVLO", "SHDN"})
        if (const NetId net = chip.net(pin); net >= 0) return net;
    return -1;
}

bool is_rail(const Board& board, NetId net) {
    return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return r.net_id == net; });
}

template <class Lost>
std::vector<int> chips(const Board& board, const Part& part, const Lost& lost) {
    std::vector<int> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& chip = board.part(i);
        if (!is_controller(chip.kind) || &chip == &part) continue;
        const NetId supply = chip.net(chip_pins(chip).supply);
        if (lost(chip, is_rail(board, supply) ? -1 : supply)) out.push_back(i);
    }
    return out;
}

} // namespace

std::vector<int> left_without(const Board& board, const Part& part) {
    return chips(board, part, [&](const Part& chip, NetId supply) {
        return (chip.kind == PartKind::Controller && alone_feeds(board, part, supply, chip)) ||
               alone_feeds(board, part, enable_of(chip), chip);
    });
}

std::vector<int> shorted_by(const Board& board, const Part& part) {
    return chips(board, part, [&](const Part& chip, NetId supply) {
        const NetId ground = chip.net(chip_pins(chip).ground);
        return joins(part, supply, ground) || joins(part, enable_of(chip), ground);
    });
}

} // namespace ohmo
