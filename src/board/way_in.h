// SPDX-License-Identifier: GPL-3.0-or-later
// Where a board is fed on which nobody has drawn the connector.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// The two nets that the line, or a direct supply, comes in by: the loose end of a fuse, a switch or the like at the entrance, and what the
/// parts across the line lead to from there. Empty where the wires do not tell. Needs stages.
std::vector<NetId> loose_contacts(const Board& board);

} // namespace ohmo
