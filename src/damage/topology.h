// SPDX-License-Identifier: GPL-3.0-or-later
// Who does what on the board, found from kinds, stages and wiring, never from names.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

struct Topology {
    std::vector<int> bulk; ///< bulk capacitors
    int transformer = -1;
    int power_switch = -1; ///< transistor or integrated switch on the transformer's primary
    int controller = -1;
    std::vector<int> supply_capacitors; ///< electrolytics on the controller's supply
    std::vector<int> snubber;           ///< parts whose loss leaves the drain unclamped
    std::vector<int> sense;             ///< resistors from the switch's source to primary ground, 10 ohm at the most
    std::vector<int> drive;             ///< parts between controller output and gate
    NetId hv = -1, primary_ground = -1, drain = -1, source = -1, gate = -1, supply = -1;
    double input_watts = 0; ///< all rails at full load over an efficiency of 0.85
};

Topology find_topology(const Board& board);

} // namespace ohmo
