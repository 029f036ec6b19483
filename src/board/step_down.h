// SPDX-License-Identifier: GPL-3.0-or-later
// Switches in series between a supply and the coil of rails. One that is through puts the supply's volts on them.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

struct BoardRoles;

/// Where a converter chip that is drawn as a controller has its own switch to its supply: an output on an inductor that does not come from
/// that supply, as it does where the chip steps up. -1: it drives something else.
NetId inner_node(const Board& board, const Part& chip);

/// What this part of this board may suffer: not the loss of what it does not have.
bool may_fail(const Board& board, const Part& part, FaultMode mode);

struct StepDown {
    int part;
    double volts;            ///< of what feeds it
    std::vector<char> rails; ///< by rail, whether it gets them when the switch is through
    bool through(const Fault& fault) const;
};

/// Those that nothing works against from below: the upper of a pair melts something instead.
std::vector<StepDown> find_step_downs(const Board& board, const BoardRoles& roles);

} // namespace ohmo
