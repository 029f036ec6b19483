// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/board.h"

namespace ohmo {

/// Nets of a transistor, whatever its pins are called; -1 where it lacks one.
struct SwitchEnds {
    NetId control, high, low; ///< gate or base, drain or collector, source or emitter
};
inline SwitchEnds switch_ends(const Part& part) {
    const auto either = [&](const char* one, const char* other) {
        const NetId net = part.net(one);
        return net >= 0 ? net : part.net(other);
    };
    return {either("G", "B"), either("D", "C"), either("S", "E")};
}

inline bool joins(const Part& part, NetId a, NetId b) { return a >= 0 && b >= 0 && a != b && part.touches(a) && part.touches(b); }

/// Between its collector or drain and its base or gate: what gets it going, and loses its volts when it shorts.
inline bool lies_across(const Part& part, const Part& device) {
    const SwitchEnds ends = switch_ends(device);
    return part.pins.size() == 2 && joins(part, ends.control, ends.high);
}

} // namespace ohmo
