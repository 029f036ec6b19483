// SPDX-License-Identifier: GPL-3.0-or-later
// What is left of a unit with faults once its branch fuses have melted: the fuse of the mains is spared, and behind them nothing is felt.
#pragma once
#include "board/branch_fuses.h"

#include <vector>

namespace ohmo {

struct Melted {
    std::vector<Fault> faults; ///< with the fuses that opened, without what stands behind them
    bool any = false;
};

/// Only fuses that go before the input's.
Melted melt_branch_fuses(const Board& board, const std::vector<BranchFuse>& fuses, const std::vector<Fault>& faults);

} // namespace ohmo
