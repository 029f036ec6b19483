// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter's reading scatters around, and how far: the spreads of parts, meter and model on the score axis.
#pragma once
#include "board/practice.h"
#include "circuit/meter.h"
#include "readings/quantities.h"

#include <optional>
#include <vector>

namespace ohmo {

/// A reading on its score axis (readings/quantities).
struct Prediction {
    double x = 0, sigma = 0;        ///< sigma includes meter and leads
    std::vector<Deviation> by_part; ///< changes of x, ascending: what readings share; the heavy ones
    double value = 0;               ///< SI
    bool over = false, rising = false;
    std::optional<double> alternate_x;
    std::vector<int> conducting;
    bool converged = true;
    int failed_part = -1; ///< where the solve did not settle
    int number = 0;       ///< among the different predictions of its query, from 0 without gaps
};

/// What the meter would show, as a distribution.
Prediction prediction_of(const Practice& practice, Quantity what, const MeterProfile& meter, const MeterReading& reading);

/// Of the narrowest prediction there is: no spread of parts, no junction.
double least_sigma(const Practice& practice, Quantity what, const MeterProfile& meter);

} // namespace ohmo
