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

/// Between its collector or drain and its base or gate: what gets it going, and loses its volts when it shorts.
inline bool lies_across(const Part& part, const Part& device) {
    const SwitchEnds ends = switch_ends(device);
    return part.pins.size() == 2 && ends.control >= 0 && ends.high >= 0 && ends.control != ends.high && part.touches(ends.control) &&
           part.touches(ends.high);
}

} // namespace ohmo
