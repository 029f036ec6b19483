// SPDX-License-Identifier: GPL-3.0-or-later
// Who does what on the board, found from kinds, stages and wiring, never from names. Found once for a board and passed on.
#pragma once
#include "board/board.h"
#include "board/branch_fuses.h"
#include "board/feedback_loop.h"
#include "board/lead_pairs.h"
#include "board/line_windings.h"
#include "board/power_path.h"
#include "board/series_ways.h"
#include "board/step_down.h"
#include "board/supply_switches.h"

#include <utility>
#include <vector>

namespace ohmo {

/// A chip that switches windings or inductors by pins of its own.
struct StepChip {
    int part;
    std::vector<NetId> nodes; ///< what it switches
};

/// Parts are indices into Board::parts, nets are NetIds; -1 or an empty list where the board has none.
struct BoardRoles {
    // The way in.
    std::vector<NetId> inlet;     ///< outside contacts of the first connector of stage "mains-in" that has two or more, or loose_contacts()
    std::vector<int> input_fuses; ///< see is_input_fuse
    std::vector<int> droppers;    ///< capacitors in series with the mains; see find_droppers
    std::vector<int> bridges;     ///< bridge rectifiers, wherever they stand
    bool own_rectifiers = false;  ///< something of stage "rectify-out": the board turns the alternating current of a winding into direct
    // Bulk capacitor and primary.
    std::vector<int> bulk;                  ///< electrolytics of stage "bulk"
    bool stacked = false;                   ///< bulk capacitors in series
    int transformer = -1;                   ///< driven by the switches
    int line_transformer = -1;              ///< fed by the mains itself
    std::vector<LineWinding> line_windings; ///< of that one, in the order of its pairs of pins
    int power_switch = -1;                  ///< the first of `switches`
    std::vector<int> switches;      ///< transistors or integrated switches on the transformer's primary or on the switching node of a buck
    std::vector<int> power_devices; ///< the same of every converter on the board: an end on a winding or an inductor; `switches` among them
    std::vector<StepChip> step_chips; ///< the whole converter in a case, or with its magnetics outside; those among `switches` too
    std::vector<StepDown> step_downs; ///< switches between a supply and the coil of rails
    std::vector<int> legs;            ///< transistors in pairs between a supply that stores and its return, as in motor bridges
    std::vector<std::pair<int, int>> totem_poles; ///< two of them, the source of one on the drain of the other; both ways round
    std::vector<int> pass;                        ///< transistors in series with a rail
    std::vector<int> series_switches;             ///< see find_series_switches
    std::vector<SupplySwitch> supply_switches;    ///< between a supply and a chip that it hands it on to
    std::vector<int> snubber;                     ///< parts whose loss leaves the drain unclamped
    std::vector<int> sense;                       ///< resistors from the switch's source to primary ground, 10 ohm at the most
    NetId hv = -1, primary_ground = -1, drain = -1, source = -1, gate = -1, supply = -1;
    NetId switching = -1; ///< without a transformer: between the switches and the inductor
    // Control.
    int controller = -1;
    std::vector<int> supply_capacitors; ///< electrolytics on the controller's supply
    std::vector<int> drive;             ///< parts on gates, bases and the controller's output
    std::vector<int> drive_path;        ///< those of them whose loss leaves a gate undriven: not the pull-downs
    std::vector<int> drive_capacitors;  ///< wet ones that the drive passes through
    std::vector<int> soft_start;        ///< capacitors on the controller's soft-start pin
    std::vector<int> clocking;          ///< on the timing and bootstrap pins of the controller: open or shorted, no switch is driven
    FeedbackLoop loop;                  ///< what tells it how high its outputs are
    // Rails.
    std::vector<int> rectifiers;                   ///< diodes and bridges of stage "rectify-out"
    std::vector<std::vector<int>> twins;           ///< by part: diodes that a lead across this one reads too; see find_twins
    std::vector<std::vector<LeadPair>> lead_pairs; ///< by part: where the leads go
    SeriesWays ways;                               ///< where one reading proves several parts
    PowerPath path;                                ///< how energy gets from the input to each rail
    std::vector<BranchFuse> branch_fuses;          ///< those behind the input
    bool rails_on_mains = false;                   ///< no isolation: everything on the board can kill; see mains_side.h
    double input_watts = 0;                        ///< all rails at full load over the efficiency of practice

    bool is_switch(int part) const;
    bool is_power_device(int part) const;
    bool is_leg(int part) const;
    bool is_pass(int part) const;
    /// No converter between the input and the rails that would limit what a short of them draws.
    bool line_fed() const { return switches.empty() && (step_chips.empty() || line_transformer >= 0); }
};

BoardRoles find_roles(const Board& board);

/// By part: the other diodes whose ends windings, chokes or the board itself join to this one's, the same way round. A lead across one
/// reads all of them, so that an open one hides behind a sound one. Empty for all that is no diode.
std::vector<std::vector<int>> find_twins(const Board& board);

/// Farads of the bulk capacitors together: in parallel, or in series where they are stacked. 0 without any.
double bulk_farads(const Board& board, const BoardRoles& roles);
/// What stands across them at the most: the line's crest; without mains the rail on it, else 0.8 of their rating.
double bulk_volts(const Board& board, const BoardRoles& roles);
/// And while all is well: less behind a dropper, as long as what holds its volts down is whole.
double running_bulk_volts(const Board& board, const BoardRoles& roles);

} // namespace ohmo
