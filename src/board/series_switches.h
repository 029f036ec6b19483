// SPDX-License-Identifier: GPL-3.0-or-later
// Field-effect transistors and relay contacts that the whole supply's current passes and that are on while it runs: against reversed
// polarity, against inrush, as a switch. Cold they are off, and hide from the inlet what stands behind them.
#pragma once
#include "board/board.h"
#include "board/fault.h"

#include <vector>

namespace ohmo {

struct BoardRoles;

/// Its two ends, -1 where it has none: drain and source, or the contact that closes.
struct SeriesEnds {
    NetId one, other;
};
SeriesEnds series_ends(const Part& part);
/// As it is while the unit runs.
Fault driven(const Board& board, int part);

/// Between what the inlet reaches and a rail, the bulk capacitor, a converter or a chip's supply. `roles` with everything but them; its
/// path leads through those that were found before, so that a second one behind a first is found when it is asked again.
std::vector<int> find_series_switches(const Board& board, const BoardRoles& roles);

} // namespace ohmo
