// SPDX-License-Identifier: GPL-3.0-or-later
// The checks of new work, held against what the journal says since each part went in.
#pragma once
#include "job/replay.h"
#include "repair/rework.h"

#include <map>
#include <vector>

namespace ohmo {

enum class WorkState {
    Open,
    Passed,
    Failed,
    Waiting, ///< something on the same nets is still believed bad: the reading would say nothing of the new part
};

struct WorkCheck {
    ReworkCheck check;
    WorkState state = WorkState::Open;
    int entry = -1; ///< the reading that said so
};

/// The checks of each part, kept while board state and faults stay as they are.
struct WorkMemory {
    BoardState state;
    std::vector<Fault> still_bad;
    std::map<std::pair<int, bool>, std::vector<ReworkCheck>> checks; ///< by part, and whether it was only resoldered
};

/// Of every new part, in the order of parts, the cheapest check first. `still_bad`: faults believed to be on the board besides.
std::vector<WorkCheck> work_checks(const Replay& now, std::vector<Fault> still_bad, WorkMemory& memory);

} // namespace ohmo
