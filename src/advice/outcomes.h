// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading may show and what that is worth. Internal to the next reading.
// Method: I(story; outcome) = H(outcome) - sum p H(outcome | story) in bits (C. E. Shannon, 1948), the outcome on a grid of the score axis.
#pragma once
#include "readings/predictor.h"

#include <array>
#include <utility>
#include <vector>

namespace ohmo {

/// The same for predictions that no reading tells apart: a tenth of a deviation between them, spreads within a twentieth. The first met
/// stands for all.
using Alike = std::array<long, 5>;
Alike alike(const Prediction& prediction);

/// Expected information in bits, I(story; outcome) = H(outcome) - sum p H(outcome | story), of a reading with these different predictions
/// and their chances (sum 1). The outcome on a grid that covers what is predicted, with over-range and "anything else" as two more cells.
/// `known`: a part whose share of the spread is taken off, as if its value had been read from its marking; -1: none. `least`: where it
/// cannot come to that many bits, something below them.
double reading_information(const Practice& practice, const std::vector<std::pair<const Prediction*, double>>& predicted, Quantity what,
                           int known = -1, double least = 0);

/// The same of a few words, from their chances under each of several cases.
struct WordCase {
    double p = 0;
    std::vector<double> chance; ///< by word
};
double word_information(const std::vector<WordCase>& cases);

} // namespace ohmo
