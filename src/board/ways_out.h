// SPDX-License-Identifier: GPL-3.0-or-later
// What stands between the rails and whatever is plugged in.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// By part: open, it leaves an outlet or a load of a rail without current, while the rail itself stands: a fuse, a coil, a track, a contact
/// or a small resistance that all the ways there lead through. Needs stages, rails and net numbers.
std::vector<char> ways_out(const Board& board);

} // namespace ohmo
