// SPDX-License-Identifier: GPL-3.0-or-later
// A scenario: one set of faults that could be the truth, with its prior and the chain that produced it.
#pragma once
#include "board/fault.h"
#include "circuit/surge.h"

#include <string>
#include <vector>

namespace ohmo {

/// Why a part of a chain failed.
enum class Cause {
    Root,        ///< first of its chain
    Independent, ///< a second fault of its own
    FuseI2t,     ///< the surge
    PulseEnergy,
    SurgeI2t,
    GateVolts,
    PinI2t,
    PinCurrent,
    CapacitorVolts,
    SwitchHeat,     ///< deeper valley, higher current: dissipation against what it was designed for
    DrainVolts,     ///< snubber lost
    OutputClimbs,   ///< feedback lost: rail against what clamps it
    RectifierHeat,  ///< output short
    WeakDrive,      ///< a switch driven too little leaves saturation
    Overcurrent,    ///< steady current into a short
    TantalumMargin, ///< the next of its kind at the next switch-on
    Blast,          ///< splinters and soot of a part that burst beside it
    Companion,      ///< benches see it go with the other; the sums do not say how
};

bool broken_with_noise(Cause cause); ///< by the surge

struct Step {
    Fault fault;
    Cause cause = Cause::Root;
    double value = 0, limit = 0; ///< in the unit of the cause
    double at_seconds = 0;       ///< within the surge; 0 for slow causes
};

struct Scenario {
    std::vector<Step> steps; ///< in order of happening, root first; empty: nothing is wrong
    double prior = 0;

    std::vector<Fault> faults() const; ///< in order of happening
    std::vector<Fault> key() const;    ///< sorted: equal for the same set
    bool violent() const;              ///< something was broken by the surge
};

std::string_view cause_name(Cause cause);
std::string_view cause_unit(Cause cause); ///< "A²s", "J", "V", "A" or "" for ratios

} // namespace ohmo
