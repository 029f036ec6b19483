// SPDX-License-Identifier: GPL-3.0-or-later
// Capacitors that stand in series with the mains instead of a transformer: they pass as many milliamperes as their reactance lets, whatever
// is shorted behind them.
#pragma once
#include "board/board.h"
#include "board/power_path.h"

#include <vector>

namespace ohmo {

/// Those without which only one contact of the inlet reaches `goals` (the ends of the bulk capacitor, or of a rail), all in parallel. Empty
/// where both contacts do, and on boards without mains. `path` without any of them.
std::vector<int> find_droppers(const Board& board, const PowerPath& path, const std::vector<NetId>& goals);

} // namespace ohmo
