// SPDX-License-Identifier: GPL-3.0-or-later
// What a part looks like from above: its body and how large it is.
#pragma once
#include "board/board.h"

namespace ohmo {

enum class Body {
    None, ///< not on the board: loads, tracks
    Can,  ///< round, a stripe along its minus
    Disc,
    Box,
    Rod,  ///< lying, a leg at each end
    Tab,  ///< three legs and a tab
    Legs, ///< three legs, no tab
    Chip, ///< legs along two sides
    Core, ///< wound on a frame
    Ring, ///< wound on a ring
    Tube,
    Terminals,
};

struct Package {
    Body body = Body::None;
    double length = 0, width = 0; ///< millimetres
    bool cooled = false;          ///< on a heat sink
};

/// Sizes are those usual for the ratings, common practice, no source; what is not printed on a part is taken from its place.
Package package_of(const Board& board, int part);

} // namespace ohmo
