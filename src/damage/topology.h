// SPDX-License-Identifier: GPL-3.0-or-later
// Who does what on the board, found from kinds, stages and wiring, never from names.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

struct Topology {
    std::vector<int> bulk; ///< bulk capacitors
    bool stacked = false;  ///< bulk capacitors in series
    int transformer = -1;
    int line_transformer = -1; ///< fed by the mains itself
    int power_switch = -1;     ///< the first of `switches`
    std::vector<int> switches; ///< transistors or integrated switches on the transformer's primary or on the switching node of a buck
    std::vector<int> pass;     ///< transistors in series with a rail
    int controller = -1;
    std::vector<int> supply_capacitors; ///< electrolytics on the controller's supply
    std::vector<int> snubber;           ///< parts whose loss leaves the drain unclamped
    std::vector<int> sense;             ///< resistors from the switch's source to primary ground, 10 ohm at the most
    std::vector<int> drive;             ///< parts on gates, bases and the controller's output
    std::vector<int> drive_path;        ///< those of them whose loss leaves a gate undriven: not the pull-downs
    std::vector<int> drive_capacitors;  ///< wet ones that the drive passes through
    std::vector<int> soft_start;        ///< capacitors on the controller's soft-start pin
    NetId hv = -1, primary_ground = -1, drain = -1, source = -1, gate = -1, supply = -1;
    NetId switching = -1;   ///< of a buck: between its switches and the inductor
    double input_watts = 0; ///< all rails at full load over an efficiency of 0.85
};

Topology find_topology(const Board& board);

/// Farads of the bulk capacitors together: in parallel, or in series where they are stacked. 0 without any.
double bulk_farads(const Board& board, const Topology& topology);
/// What stands across them at the most: the line's crest; without mains the rail on it, else 0.8 of their rating.
double bulk_volts(const Board& board, const Topology& topology);

} // namespace ohmo
