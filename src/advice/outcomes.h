// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading may show and what that is worth. Internal to the next reading.
// Method: I(story; outcome) = H(outcome) - sum p H(outcome | story) in bits (C. E. Shannon, 1948), each outcome a bell taken at five
// points.
#pragma once
#include <set>
#include <vector>

namespace ohmo {

/// What one state of the board makes a reading be, on the axis of belief/axis.
struct Outcome {
    double p = 0, y = 0, spread = 1;
    int story = 0; ///< outcomes of one story are not told apart: the same parts are bad
};

/// Of a chance between two, bits.
double entropy(double p);

/// Expected bits on the story. The chances need not sum to one; what is left is taken to tell nothing.
double reading_information(std::vector<Outcome> outcomes);

/// The same of a few words, from their chances under each of several cases.
struct WordCase {
    double p = 0;
    std::vector<double> chance; ///< by word
};
double word_information(const std::vector<WordCase>& cases);

} // namespace ohmo
