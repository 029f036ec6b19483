// SPDX-License-Identifier: GPL-3.0-or-later
// How long the bulk capacitor stays dangerous, and the resistor that empties it.
#pragma once
#include "board/roles.h"

#include <optional>
#include <utility>
#include <vector>

namespace ohmo {

/// Safety limits, fixed in data/practice.json: an edited file cannot change them.
inline double hazard_volts() { return shipped_practice().hazard_volts; }   ///< direct volts, dry
inline double caution_volts() { return shipped_practice().caution_volts; } ///< direct volts, wet
inline double working_volts() { return shipped_practice().working_volts; } ///< below this cold readings are unlocked
inline double stale_charge_seconds() { return shipped_practice().stale_charge_seconds; }

/// Current that finds what empties a capacitor: lifts the junctions of a chip's supply out of the way, as the charged capacitor does.
inline constexpr double kBleederAmps = 2e-4;

struct ChargeReading {
    double at_seconds; ///< any origin
    double volts;
};

struct Discharge {
    double farads = 0, volts = 0, joules = 0;      ///< at the mains crest
    double predicted_tau = 0;                      ///< from the board's own bleeders; 0 when there is none
    std::optional<double> measured_tau;            ///< from two falling readings
    double resistor_ohms = 0, resistor_watts = 0;  ///< first-instant power
    double resistor_tau = 0, resistor_seconds = 0; ///< to working_volts()
    double tau() const { return measured_tau.value_or(predicted_tau); }
};

/// Empty when the board has no bulk capacitor or no mains. `readings` in order of time.
std::optional<Discharge> plan_discharge(const Board& board, const BoardRoles& roles, const std::vector<ChargeReading>& readings);

/// The same with the time constant that these readings show, which needs no look at the board.
Discharge with_readings(Discharge discharge, const std::vector<ChargeReading>& readings);

/// One capacitor's sums, for any voltage: resistor from E12 that reaches the working limit within about two seconds and keeps the first
/// instant below 15 W.
Discharge discharge_of(const Practice& practice, double farads, double volts);

} // namespace ohmo
