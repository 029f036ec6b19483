// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/board.h"
#include "damage/scenario.h"
#include "damage/slow_causes.h"

#include <vector>

namespace ohmo {

/// A short, whatever pins it joins.
bool conducts_wrongly(FaultMode mode);

/// A part in the way in that stops everything when it opens: fuse, fusible resistor, inrush limiter.
bool opens_the_way_in(const Part& part);

/// Of several chains in one story, puts first the one that explains most of the damage; but one with a short in it before a fuse that
/// opened on its own: on a dead unit nothing shorts any more. The set of faults stays the same.
void tell_in_order(const Board& board, Scenario& scenario);

/// Puts a fault that stands in the story on its own before the first one when it leads to that: the dry capacitor before the switch it
/// overheats, with the sum. `consequences` are of that fault.
void tell_cause_first(const Practice& practice, const std::vector<Consequence>& consequences, const Fault& fault, Scenario& scenario);

} // namespace ohmo
