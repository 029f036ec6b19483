// SPDX-License-Identifier: GPL-3.0-or-later
// Faults that wear the supply down over hours or months until something breaks, from steady-state sums.
#pragma once
#include "board/roles.h"
#include "damage/scenario.h"

#include <set>
#include <string>
#include <vector>

namespace ohmo {

/// What a root fault leads to under power, and how likely.
struct Consequence {
    Step step;
    double chance = 0;
};

/// Consequences of one fault on an energised board, most likely first. Empty when it leads to nothing more.
std::vector<Consequence> slow_consequences(const Board& board, const BoardRoles& roles, const Fault& root,
                                           const std::set<std::string>& history = {});

/// Valley of the bulk capacitor at full load, at its nominal or another capacitance.
double bulk_valley(const Board& board, const BoardRoles& roles, double capacitance_share);

} // namespace ohmo
