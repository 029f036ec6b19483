// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/short_beside.h"

#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

// At an end of the primary that no switch is on, and no supply.
bool keeps_direct_current_out(const Board& board, const BoardRoles& t, const Part& part) {
    if (!is_capacitor(part.kind) || t.transformer < 0) return false;
    const auto& pins = board.part(t.transformer).pins;
    return std::any_of(pins.begin(), pins.end(), [&](const Pin& pin) {
        if (pin.role.front() != 'P' || !part.touches(pin.id) || pin.id == t.hv || pin.id == t.primary_ground) return false;
        return std::none_of(t.switches.begin(), t.switches.end(), [&](int i) { return board.part(i).touches(pin.id); });
    });
}

} // namespace

ShortBeside short_beside(const Board& board, const BoardRoles& t, int shorted) {
    ShortBeside out;
    const Part& part = board.part(shorted);
    if (part.pins.size() != 2) return out;
    const auto across = [&](int i) {
        const auto ends = switch_ends(board.part(i));
        return joins(part, ends.high, ends.low);
    };
    const bool bulk = std::find(t.bulk.begin(), t.bulk.end(), shorted) != t.bulk.end();
    out.blows_the_fuse = (t.switches.size() > 1 && std::any_of(t.switches.begin(), t.switches.end(), across)) || (t.stacked && bulk);
    out.overloads = !bulk && keeps_direct_current_out(board, t, part);
    return out;
}

} // namespace ohmo
