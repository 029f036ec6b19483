// SPDX-License-Identifier: GPL-3.0-or-later
// What falling volts say of a charged capacitor: a straight line through ln V against time, weighted by what a hand meter and a hand on a
// watch leave uncertain. When it will be low, and whether it falls as its bleeders let it.
#pragma once
#include "board/roles.h"
#include "powerup/discharge.h"

#include <optional>
#include <vector>

namespace ohmo {

enum class DecayVerdict {
    TooFew,   ///< one reading or none
    Falls,    ///< as the bleeders let it, or nothing is known of them
    Slow,     ///< a bleeder is open or high
    Fast,     ///< less capacitance than there should be, a leak, or a lead that is off: the track empties, not the capacitor
    Stands,   ///< no fall beyond what the meter leaves uncertain
    Recovers, ///< low, and a little up again: the dielectric gives back
    Rises,    ///< power is on, or another capacitor feeds it
};

struct Decay {
    DecayVerdict verdict = DecayVerdict::TooFew;
    double tau = 0;                                                     ///< seconds; 0 where nothing falls
    double tau_sigma = 0;                                               ///< of tau
    double middle_seconds = 0, middle_ln_volts = 0, ln_volts_sigma = 0; ///< of the line
};

struct When {
    double at_seconds = 0, sigma = 0; ///< on the clock of the readings
};

/// `readings` since the last power, in order of time; those of zero volts are left out. `predicted_tau`: of the board's bleeders, 0 where
/// they are not known.
Decay fit_decay(const Practice& practice, const std::vector<ChargeReading>& readings, double predicted_tau);

/// When the line reaches these volts; nothing where nothing falls.
std::optional<When> when_below(const Decay& decay, double volts);

/// A group of capacitors in parallel that can hurt, or weld: at least hazard_volts() and charge_joules, or weld_joules at any volts.
struct Store {
    std::vector<int> parts;
    double volts = 0, farads = 0, joules = 0; ///< at the most
    bool bulk = false;
};

/// Those of the board, most energy first: at the mains crest, at their rail, or at four fifths of their rating where neither is known.
std::vector<Store> charged_stores(const Board& board, const BoardRoles& roles);

/// Volts that a capacitor of this board could show at the most: crest of the mains, doubled, with a tenth to spare. 0 without mains.
double most_volts(const Board& board);

} // namespace ohmo
