// SPDX-License-Identifier: GPL-3.0-or-later
// The windings of a transformer at the frequency of the mains: what each delivers, what it resists, and which shorts it feeds.
#pragma once
#include "board/board.h"
#include "board/power_path.h"
#include "board/short_loops.h"

#include <vector>

namespace ohmo {

struct LineWinding {
    double volts = 0; ///< rms, idle
    double amps = 0;  ///< rms at full load; 0 where neither its rails nor, of the primary, a fuse tell
    double ohms = 0;  ///< as the board gives them, else by its volts and amperes
    bool given = false;
    double primary_amps = 0;  ///< of a secondary: what the line gives into a dead short across it
    ShortLoops shorts{};      ///< of a secondary
    std::vector<int> rails{}; ///< that it feeds
};

/// Of those that the fault shorts, the amperes of the line; 0 where it shorts none.
double line_amps_into(const std::vector<LineWinding>& windings, const Board& board, const Fault& fault);

/// One of the faults shorts a winding that feeds the rail.
bool pulled_down(const std::vector<LineWinding>& windings, std::size_t rail, const Board& board, const std::vector<Fault>& faults);

/// In the order of its pairs of pins, of which the first must be a primary; without its partner a pin has none of all this. Empty without
/// mains or such a transformer. Resistance: the share of its volts that a winding loses at full load (practice).
std::vector<LineWinding> find_line_windings(const Board& board, const PowerPath& path, int transformer);

} // namespace ohmo
