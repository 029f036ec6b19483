// SPDX-License-Identifier: GPL-3.0-or-later
// What goes on from a chain on boards fed with low voltage, where no surge is run. Internal to the enumeration.
#pragma once
#include "damage/behaviour.h"
#include "damage/further.h"

#include <vector>

namespace ohmo {

/// Volts that a board without mains is fed with: what its capacitors were chosen for, less the usual margin.
double input_volts(const Board& board, const BoardRoles& roles);

/// A switch that has lost its gate puts the input on the pin that drives it: each such chain parts into one with the driver and one
/// without.
void reach_the_driver(const Board& board, const BoardRoles& roles, std::vector<Chain>& chains);

/// What shorts the input takes the fuse that stands before it.
void blow_input_fuse(const Board& board, const BoardRoles& roles, BehaviourModel& behaviour, std::vector<Chain>& chains);

} // namespace ohmo
