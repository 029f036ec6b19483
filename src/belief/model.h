// SPDX-License-Identifier: GPL-3.0-or-later
// A board as galvanic islands of unknowns, and its parts as units with modes. A part whose pins no conductor joins (windings, contacts, the
// two sides of an optocoupler) is one unit a side. Elements and their faults are those of circuit/expand: a mode is what differs there from
// the healthy part, told as other middles and spreads of the same unknowns.
#pragma once
#include "belief/circuit.h"
#include "board/roles.h"
#include "circuit/meter.h"
#include "damage/fault_library.h"

#include <map>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ohmo::belief {

/// A mode's middle and spread of one unknown, in place of the healthy ones.
struct Override {
    int unknown;
    double middle, spread;
};

struct UnitMode {
    Fault fault;     ///< of the first mode, "fine", only the part counts
    double wear = 0; ///< chance by wear at the usual age; "fine" has what is left
    std::vector<Override> values;
    bool conducts = false; ///< a short that may take others along
    bool setting = false;  ///< how a switch or relay may be set, where nobody said: no fault
};

struct Unit {
    int part = -1;
    int island = -1;
    bool renewed = false;        ///< stands for the new part that took the place of another unit's
    bool ages = false;           ///< of the family that shares one latent age
    std::vector<UnitMode> modes; ///< the first is "fine"
    Circuit alone;               ///< the part by itself, in unknowns of its island
    std::map<NetId, int> alone_node;
    double wear() const; ///< of all modes together
};

struct Island {
    Circuit circuit;
    std::vector<Unknown> prior;
    std::vector<int> units;
    std::vector<NetId> nets; ///< by node
    std::vector<int> owner;  ///< by unknown: its unit, -1 for the meters'
};

struct Model {
    std::vector<Unit> units;
    std::vector<std::vector<int>> units_of; ///< by part; new ones after the old
    std::vector<Island> islands;
    std::vector<std::pair<int, int>> home; ///< by net: island and node

    /// The unit of a part that has both nets, old or new; none when the part's own pins are not joined between them.
    std::optional<int> unit_between(int part, NetId a, NetId b, bool renewed) const;
};

/// What each part and mode weighs as a first fault; from damage/enumerate.
struct RootWeight {
    Fault fault;
    double weight;
};

Model make_model(const Board& board, const BoardRoles& roles, const std::vector<RootWeight>& roots, const std::vector<MeterProfile>& meters,
                 const std::set<int>& renewed);

} // namespace ohmo::belief
