// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/driving.h"

#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {

NetId other_end(const Part& part, NetId net) {
    for (const auto& pin : part.pins)
        if (pin.id != net) return pin.id;
    return -1;
}

bool feeds_rails(const Board& board, const Part& transformer) {
    return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
        return p.stage == "rectify-out" &&
               std::any_of(transformer.pins.begin(), transformer.pins.end(), [&](const Pin& pin) { return p.touches(pin.id); });
    });
}

bool drives_gates(const Board& board, const Part& transformer) {
    if (feeds_rails(board, transformer)) return false; // a winding of the main one may drive its own switch
    const auto on_gate = [&](NetId net) {
        return std::any_of(board.parts.begin(), board.parts.end(),
                           [&](const Part& p) { return is_switch_device(p.kind) && switch_ends(p).control == net; });
    };
    return std::any_of(transformer.pins.begin(), transformer.pins.end(), [&](const Pin& pin) {
        return on_gate(pin.id) || std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
                   return is_resistor_like(p.kind) && p.touches(pin.id) && on_gate(other_end(p, pin.id));
               });
    });
}

bool drives(const Board& board, const Part& chip, NetId control) {
    std::vector<NetId> reached;
    for (const auto pin : chip_outputs(chip)) reached.push_back(chip.net(pin));
    std::size_t from = 0;
    for (int step = 0; step < 2; ++step) {
        const std::size_t end = reached.size();
        for (; from < end; ++from)
            for (const auto& part : board.parts) {
                const bool hands_on = is_resistor_like(part.kind) || is_diode_like(part.kind) || is_capacitor(part.kind);
                if (!part.touches(reached[from])) continue;
                if (hands_on && part.pins.size() == 2) reached.push_back(other_end(part, reached[from]));
                if (part.kind == PartKind::Transformer && drives_gates(board, part))
                    for (const auto& pin : part.pins) reached.push_back(pin.id);
            }
    }
    return std::find(reached.begin(), reached.end(), control) != reached.end();
}

} // namespace ohmo
