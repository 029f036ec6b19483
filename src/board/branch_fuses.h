// SPDX-License-Identifier: GPL-3.0-or-later
// Fuses behind the input: in a secondary, between the bridge and what it feeds, in a branch of a rail. A short of what they guard opens them,
// as a rule before the input's fuse.
#pragma once
#include "board/board.h"
#include "board/power_path.h"

#include <span>
#include <vector>

namespace ohmo {

struct BranchFuse {
    int part = -1;
    /// A short from a net of `fed` to one of `back` draws its current through the fuse; by net.
    struct Loop {
        std::vector<char> fed, back;
    };
    std::vector<Loop> loops{}; ///< of a winding one for each half wave
    bool first = true;         ///< melts before the input's: another current, or a lower rating
    std::vector<char> at{};    ///< nets right on the fed side of a winding's fuse: a rectifier there that shorts joins two half waves

    bool opened_by(const Board& board, const Fault& fault) const;
};

/// A fuse of stage "mains-in" or "filter" with a readable rating.
bool is_input_fuse(const Part& part);

/// Of all other fuses; without those of which it cannot be told which side is fed. `switches`: of all converters.
std::vector<BranchFuse> find_branch_fuses(const Board& board, const PowerPath& path, std::span<const int> switches);

} // namespace ohmo
