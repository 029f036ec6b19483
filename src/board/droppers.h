// SPDX-License-Identifier: GPL-3.0-or-later
// Capacitors that stand in series with the mains instead of a transformer: they pass as many milliamperes as their reactance lets, whatever
// is shorted behind them.
#pragma once
#include "board/board.h"
#include "board/power_path.h"

#include <vector>

namespace ohmo {

/// What a dropper would charge: the ends of the bulk capacitor, else of the first rail.
std::vector<NetId> dropper_goals(const Board& board, const BoardRoles& roles);

/// Those without which only one contact of the inlet reaches `goals`, all in parallel. Empty
/// where both contacts do, and on boards without mains. `path` without any of them.
std::vector<int> find_droppers(const Board& board, const PowerPath& path, const std::vector<NetId>& goals);

} // namespace ohmo
