// SPDX-License-Identifier: GPL-3.0-or-later
// What one reading through a short tells of the next, against the formula for two Gaussian variables.
#include "readings/conditioning.h"

#include "readings/likelihood.h"
#include "support/demo.h"

#include <cmath>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// A rail of two tracks with a capacitor at each end; X and Y are another island.
Board rail() {
    return board({"W1 track 0R2 1=A 2=B", "W2 track 0R2 1=B 2=C", "C1 ceramic 100n 1=A 2=0V", "C2 ceramic 100n 1=C 2=0V",
                  "R1 resistor 1k 1=A 2=0V", "R2 resistor 1k 1=X 2=Y"});
}

Query ohms_at(const Board& b, const char* red, const char* black) {
    return {Quantity::Ohms, *b.find_net(red), *b.find_net(black), -1, {}, 0};
}

Observation seen(const Query& query, double value) {
    Observation o;
    o.kind = Seen::Reading;
    o.query = query;
    o.value = value;
    return o;
}

} // namespace

TEST(Conditioning, OneReadingAsTwoGaussianVariables) {
    const Board b = rail();
    const Predictor predictor(b, {});
    const SetId shorted = predictor.id({fault(b, "C2:short")});
    const Query there = ohms_at(b, "A", "0V"), here = ohms_at(b, "C", "0V");
    const Prediction &first = predictor.predict(there, shorted), &second = predictor.predict(here, shorted);
    const double read = 1.9; // of a short that is typically 0.3 ohm
    const Conditioning conditioning(predictor, {seen(there, read)}, {shorted});
    const int group = conditioning.group(0);
    ASSERT_NE(group, 0);
    const auto given = conditioning.given(group, second);
    ASSERT_TRUE(given);
    const double shared = shared_variance(first, second), own = first.sigma * first.sigma * (1 + 1e-9);
    const double off = score_axis(Quantity::Ohms, read) - first.x;
    EXPECT_NEAR(given->x, second.x + shared / own * off, 1e-9);
    EXPECT_NEAR(given->sigma, std::sqrt(second.sigma * second.sigma - shared * shared / own), 1e-9);
    EXPECT_LT(given->sigma, 0.4 * second.sigma); // the short's own ohms are known now
    EXPECT_GT(score_value(Quantity::Ohms, given->x), 3 * score_value(Quantity::Ohms, second.x));
}

TEST(Conditioning, NothingWideReadNothingTold) {
    const Board b = rail();
    const Predictor predictor(b, {});
    const SetId fine = predictor.id({});
    const Query query = ohms_at(b, "A", "0V");
    const Conditioning conditioning(predictor, {seen(query, 1003)}, {fine}); // a resistor's tolerance is not worth the sums
    EXPECT_EQ(conditioning.group(0), 0);
    EXPECT_FALSE(conditioning.given(0, predictor.predict(query, fine)));
}

TEST(Conditioning, AnotherIslandIsNotTouched) {
    const Board b = rail();
    const Predictor predictor(b, {});
    const SetId shorted = predictor.id({fault(b, "C2:short"), fault(b, "R2:high")});
    const Conditioning conditioning(predictor, {seen(ohms_at(b, "A", "0V"), 1.9)}, {shorted});
    ASSERT_NE(conditioning.group(0), 0);
    EXPECT_FALSE(conditioning.given(conditioning.group(0), predictor.predict(ohms_at(b, "X", "Y"), shorted)));
}

TEST(Conditioning, StoriesWithTheSameReadingsShareAGroup) {
    const Board b = rail();
    const Predictor predictor(b, {});
    const SetId one = predictor.id({fault(b, "C2:short")}), same = predictor.id({fault(b, "C2:short"), fault(b, "R2:open")}),
                other = predictor.id({fault(b, "C1:short")});
    const Conditioning conditioning(predictor, {seen(ohms_at(b, "A", "0V"), 0.8)}, {one, same, other});
    EXPECT_EQ(conditioning.group(0), conditioning.group(1));
    EXPECT_NE(conditioning.group(0), conditioning.group(2));
}

TEST(Conditioning, WhatLiesFarOffSaysNothing) { // a blunder or another fault
    const Board b = rail();
    const Predictor predictor(b, {});
    const SetId shorted = predictor.id({fault(b, "C2:short")});
    EXPECT_EQ(Conditioning(predictor, {seen(ohms_at(b, "A", "0V"), 5e5)}, {shorted}).group(0), 0);
    Observation over = seen(ohms_at(b, "A", "0V"), 0);
    over.over = true;
    EXPECT_EQ(Conditioning(predictor, {over}, {shorted}).group(0), 0);
}
