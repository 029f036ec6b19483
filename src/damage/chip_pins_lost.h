// SPDX-License-Identifier: GPL-3.0-or-later
// Chips that a part takes along by their supply or enable pins, where these are no rails.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// With the part open: what lives by it alone. A chip with its switch inside feeds its supply from there.
std::vector<int> left_without(const Board& board, const Part& part);
/// With the part shorted: what it lies across.
std::vector<int> shorted_by(const Board& board, const Part& part);

} // namespace ohmo
