// SPDX-License-Identifier: GPL-3.0-or-later
// Parts whose value nobody could read: what they are likely to be, from where they stand. A designer's choice, known to a factor of
// several.
#pragma once
#include "board/board.h"

namespace ohmo {

/// Fills Part::taken_for and taken_spread of every resistor, capacitor, choke and fuse without a readable value; those of all others stay
/// empty. A line transformer without turns gets those that bring its reservoirs to two thirds of their volts (common practice, no source).
void take_values(Board& board);

} // namespace ohmo
