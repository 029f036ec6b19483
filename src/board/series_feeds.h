// SPDX-License-Identifier: GPL-3.0-or-later
// Resistors of which nobody knows the value, and without which a rail gets nothing: in series with all that it feeds.
#pragma once
#include "board/roles.h"

#include <vector>

namespace ohmo {

struct SeriesFeed {
    int part = -1; ///< the resistor, index into Board::parts
    int rail = -1; ///< index into Board::rails
};

/// Not of rails that a Zener holds: those want a resistor that drops volts. `roles` with its path; needs net numbers.
std::vector<SeriesFeed> find_series_feeds(const Board& board, const BoardRoles& roles);

} // namespace ohmo
