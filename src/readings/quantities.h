// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter can be asked for: one table for the score axis, the range of a meter, over-range, unit and name.
#pragma once
#include "circuit/meter.h"

#include <optional>
#include <string_view>

namespace ohmo {

/// Readings are compared on a score axis: ln(value + offset) for quantities that span decades, the value itself for the others.
struct QuantityInfo {
    Quantity what;
    std::string_view name; ///< the word of the job format
    std::string_view word; ///< the word of the bench line
    std::string_view unit; ///< SI
    bool logarithmic;
    double offset;              ///< SI; added before the logarithm
    double least, most;         ///< SI: what a meter's ranges cover
    std::optional<double> over; ///< SI: above it the meter shows over-range
    double density;             ///< of a reading that may be anything, per unit of the score axis
};

const QuantityInfo& quantity_info(Quantity what);

double score_axis(Quantity what, double value); ///< of a value in SI units
double score_value(Quantity what, double x);    ///< inverse of score_axis, never below 0
double over_edge(Quantity what);                ///< on the score axis; 1e9 where the quantity has no over-range

/// A capacitance meter that finds no capacitor shows nothing or over-range: one outcome, not a number.
inline constexpr double kNoFarads = 1e-12;

std::string_view quantity_name(Quantity what); ///< "ohms", "scope-residue": the words of the job format
/// Nothing for words that are no quantity read without power.
std::optional<Quantity> quantity_named(std::string_view name);

} // namespace ohmo
