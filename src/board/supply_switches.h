// SPDX-License-Identifier: GPL-3.0-or-later
// Transistors that hand a supply on to a chip: turned on by a standby side, or as a regulator from which it starts.
#pragma once
#include "board/board.h"
#include "board/fault.h"

#include <vector>

namespace ohmo {

struct BoardRoles;

struct SupplySwitch {
    int part;
    int chip;
    NetId from, to;               ///< the way of the current
    std::vector<int> open_stops;  ///< of what turns it on: open or weak, it stays off
    std::vector<int> short_stops; ///< through, they hold it off
    /// It passes nothing on.
    bool off(const std::vector<Fault>& faults) const;
};

/// From a reservoir, a rail or the bulk capacitor to the supply pin of a controller. Of `roles` all but its path and what that needs.
std::vector<SupplySwitch> find_supply_switches(const Board& board, const BoardRoles& roles);

} // namespace ohmo
