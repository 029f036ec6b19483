// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "damage/figures.h"
#include "readings/evidence.h"
#include "readings/predictor.h"

namespace ohmo {

/// Chance that a reading was taken on the wrong pin, misread or mistyped; less for one that came out alike again: a slip seldom repeats
/// itself.
double blunder_chance(const Practice& practice, const Observation& seen);

/// Density of an observed reading on the score axis (or chance, for over-range and continuity) given the prediction. Never 0.
double reading_likelihood(const Practice& practice, const Observation& seen, const Prediction& predicted);

/// Whether a reading is near enough to its prediction to say something about the tolerances of the parts behind it.
bool shares_tolerances(const Observation& seen, const Prediction& predicted);

/// Covariance of two readings of one hypothesis on their score axes, from the deviations behind both.
double shared_variance(const Prediction& a, const Prediction& b);

/// Covariance of what two readings of one hypothesis have beyond what is straight in their deviations.
double bend_covariance(const Prediction& a, const Prediction& b);

/// Readings of one hypothesis together: a part that is 4 % high shows in all of them and is counted once. Logarithm of each reading's
/// density given those before it (a Gaussian with the parts' effects as covariance; G. Welch and G. Bishop describe the equivalent Kalman
/// update).
std::vector<double> joint_ln_likelihood(const Practice& practice,
                                        const std::vector<std::pair<const Observation*, const Prediction*>>& readings);

/// How far off: 0 is spot on, above 3 is a misfit.
double reading_misfit(const Practice& practice, const Observation& seen, const Prediction& predicted);

/// The same under "something that is not on the map": anything may be read.
double unexplained_likelihood(const Practice& practice, const Observation& seen);

/// Density of the volts or the ripple read on a rail or the bulk capacitor of a running unit; 1 for other places.
double live_likelihood(const Board& board, const BoardRoles& roles, const Observation& seen, const Figures& figures);

} // namespace ohmo
