// SPDX-License-Identifier: GPL-3.0-or-later
// Where a meter finds what a rail has: on the rail, at the contacts of an outlet, on either side of a coil.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// By net: joined to `from` by contacts, tracks and coils, not by way of `other`. All false for a net of -1.
std::vector<char> joined_without_loss(const Board& board, NetId from, NetId other);

/// By net: the rail, or the return of one, that it is joined to so; itself elsewhere.
std::vector<NetId> rail_sides(const Board& board);

} // namespace ohmo
