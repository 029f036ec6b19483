// SPDX-License-Identifier: GPL-3.0-or-later
// A part by itself, in one of its modes: a circuit of a few nodes for the same sums, and what readings of it alone say.
#pragma once
#include "belief/fit.h"
#include "belief/model.h"
#include "belief/network.h"

namespace ohmo::belief {

/// What is known of an island's unknowns when one unit stands in a mode; `refined` has what was read of it alone.
std::vector<Unknown> prior_in(const Island& island, const UnitMode& mode, const std::vector<Override>& refined = {});

struct AloneForecast {
    Forecast shown;
    double variance = 0; ///< of `shown.y`, by what is not known of the part and the meter
};

/// `place` in nodes of the part alone; its setting does not count.
AloneForecast forecast_alone(const Model& model, const Unit& unit, const std::vector<Unknown>& prior,
                             const std::vector<MeterProfile>& meters, Place place);

/// What readings of a unit alone say, by mode.
struct AloneFit {
    std::vector<double> ln;                     ///< likelihood
    std::vector<std::vector<double>> each;      ///< of that, each reading's part
    std::vector<std::vector<Override>> refined; ///< what its unknowns are then: on the board their prior
};

/// Readings are believed to the bell; nothing is learned from one that a mode can only take for a slip.
AloneFit fit_alone(const Model& model, int unit, const std::vector<MeterProfile>& meters, const std::vector<Sight>& seen);

} // namespace ohmo::belief
