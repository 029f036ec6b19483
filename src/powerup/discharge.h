// SPDX-License-Identifier: GPL-3.0-or-later
// How long the bulk capacitor stays dangerous, and the resistor that empties it.
#pragma once
#include "board/roles.h"

#include <optional>
#include <utility>
#include <vector>

namespace ohmo {

inline constexpr double kHazardVolts = 60;  ///< IEC 61010-1, DC, dry, normal condition (from memory)
inline constexpr double kCautionVolts = 30; ///< wet conditions, same standard (from memory)
inline constexpr double kWorkingVolts = 10; ///< the limit this program uses before cold readings

struct ChargeReading {
    double at_seconds; ///< any origin
    double volts;
};

struct Discharge {
    double farads = 0, volts = 0, joules = 0;      ///< at the mains crest
    double predicted_tau = 0;                      ///< from the board's own bleeders; 0 when there is none
    std::optional<double> measured_tau;            ///< from two falling readings
    double resistor_ohms = 0, resistor_watts = 0;  ///< first-instant power
    double resistor_tau = 0, resistor_seconds = 0; ///< to kWorkingVolts
    double tau() const { return measured_tau.value_or(predicted_tau); }
};

/// Empty when the board has no bulk capacitor or no mains. `readings` in order of time.
std::optional<Discharge> plan_discharge(const Board& board, const BoardRoles& roles, const std::vector<ChargeReading>& readings);

/// One capacitor's sums, for any voltage: resistor from E12 that reaches the working limit within about two seconds and keeps the first
/// instant below 15 W.
Discharge discharge_of(double farads, double volts);

} // namespace ohmo
