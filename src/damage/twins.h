// SPDX-License-Identifier: GPL-3.0-or-later
// Rectifiers that stand for each other in circuit.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// By part: the other diodes whose ends windings, chokes or the board itself join to this one's, the same way round. A lead across one
/// reads all of them, so that an open one hides behind a sound one. Empty for all that is no diode.
std::vector<std::vector<int>> twins(const Board& board);

} // namespace ohmo
