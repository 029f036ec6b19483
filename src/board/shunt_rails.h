// SPDX-License-Identifier: GPL-3.0-or-later
// Rails that a Zener holds behind a resistor.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// A rail that nothing feeds but resistors, and across which a Zener of its own volts keeps them down. Parts are indices.
struct ShuntRail {
    int rail = -1;
    std::vector<int> feeds; ///< resistors that lead to it from elsewhere
};

/// Needs net numbers.
std::vector<ShuntRail> find_shunt_rails(const Board& board);

} // namespace ohmo
