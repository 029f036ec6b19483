// SPDX-License-Identifier: GPL-3.0-or-later
// What drives a gate or base.
#pragma once
#include "board/board.h"

namespace ohmo {

/// The first net of the part that is not this one; -1 for none.
NetId other_end(const Part& part, NetId net);
/// A rectifier of the outputs hangs on a winding.
bool feeds_rails(const Board& board, const Part& transformer);
/// It drives gates or bases, straight or through a resistor, and nothing else.
bool drives_gates(const Board& board, const Part& transformer);
/// An output of the chip reaches this gate or base by two parts at the most, or by a transformer for the drive. Not -1.
bool drives(const Board& board, const Part& chip, NetId control);

} // namespace ohmo
