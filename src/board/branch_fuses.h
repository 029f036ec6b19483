// SPDX-License-Identifier: GPL-3.0-or-later
// Fuses behind the input: in a secondary, between the bridge and what it feeds, in a branch of a rail. A short of what they guard opens
// them, as a rule before the input's fuse.
#pragma once
#include "board/board.h"
#include "board/power_path.h"
#include "board/short_loops.h"

#include <span>
#include <vector>

namespace ohmo {

struct BranchFuse {
    int part = -1;
    ShortLoops shorts{};
    bool first = true; ///< melts before the input's: another current, or a lower rating

    bool opened_by(const Board& board, const Fault& fault) const { return fault.part != part && shorts.closed_by(board, fault); }
};

/// A fuse of stage "mains-in" or "filter" with a readable rating.
bool is_input_fuse(const Part& part);

/// Of all other fuses; without those of which it cannot be told which side is fed. `switches`: of all converters.
std::vector<BranchFuse> find_branch_fuses(const Board& board, const PowerPath& path, std::span<const int> switches);

} // namespace ohmo
