// SPDX-License-Identifier: GPL-3.0-or-later
// What one fault leads to under power, a cause a file. Internal to slow_causes. Figures are those of practice; each file says its sum.
#pragma once
#include "damage/slow_causes.h"

namespace ohmo::causes {

/// A fault on a board under power.
struct Case {
    const Board& board;
    const BoardRoles& roles;
    const Fault& fault;
    bool oversized_fuse = false; ///< the unit's history says so

    const Practice& practice() const { return board.practice(); }
    const Part& part() const { return board.part(fault.part); }
    bool offline() const { return board.mains && roles.power_switch >= 0; } ///< a converter on the mains
    bool shorted() const;                                                   ///< junctions, windings and capacitors that conduct
};

/// A consequence by name.
struct Named {
    Fault fault;
    Cause cause;
    double value = 0, limit = 0; ///< in the unit of the cause
    double chance = 0;
};
inline Consequence consequence(Named c) { return {{std::move(c.fault), c.cause, c.value, c.limit, 0}, c.chance}; }

FaultMode switch_short(PartKind kind); ///< drain to source or collector to emitter

/// Any one of the switches, all of which are loaded alike. `spread`: of ln(limit).
void switch_breaks(const Case& on, Cause cause, double value, double limit, double spread, std::vector<Consequence>& out);

void switch_heat(const Case& on, std::vector<Consequence>& out);
void drain_volts(const Case& on, std::vector<Consequence>& out);
void output_climbs(const Case& on, std::vector<Consequence>& out);
void weak_drive(const Case& on, std::vector<Consequence>& out);
void pass_overcurrent(const Case& on, std::vector<Consequence>& out);
void own_supply_sags(const Case& on, std::vector<Consequence>& out);
void totem_pole(const Case& on, std::vector<Consequence>& out);
void fuse_overcurrent(const Case& on, std::vector<Consequence>& out);
void rectifier_heat(const Case& on, std::vector<Consequence>& out);
void tantalum_margin(const Case& on, std::vector<Consequence>& out);

} // namespace ohmo::causes
