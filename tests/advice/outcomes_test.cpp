// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading is worth, against sums that can be done by hand.
#include "advice/outcomes.h"

#include "base/statistics.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace ohmo;

namespace {

double bits(double p) { return -p * std::log2(p) - (1 - p) * std::log2(1 - p); }

} // namespace

TEST(Information, FarApartTellsNearlyAllAndTheSameTellsNothing) {
    const double told = reading_information({{0.25, -1, 0.05, 0}, {0.75, 11, 0.05, 1}});
    EXPECT_LT(told, bits(0.25));
    EXPECT_GT(told, 0.8 * bits(0.25)); // slips take the rest
    EXPECT_NEAR(reading_information({{0.4, 3, 0.05, 0}, {0.6, 3, 0.05, 1}}), 0, 1e-6);
    EXPECT_EQ(reading_information({{1, 3, 0.05, 0}}), 0);
    EXPECT_EQ(reading_information({{0.4, 3, 0.05, 0}, {0.6, 9, 0.05, 0}}), 0); // two ways to the same parts
}

// Two equal chances whose readings lie d deviations apart: by numerical integration of the mixture's entropy.
TEST(Information, OverlapIsWhatTheIntegralSays) {
    for (double d : {1.0, 2.0, 3.0, 4.0}) {
        double mixed = 0, alone = 0;
        for (double x = -8; x < 8 + d; x += 1e-3) {
            const double p = normal_density(x, 0, 1), q = normal_density(x, d, 1), m = (p + q) / 2;
            mixed -= m * std::log2(m) * 1e-3;
            alone -= p * std::log2(p) * 1e-3;
        }
        const double spread = 0.2;
        EXPECT_NEAR(reading_information({{0.5, 4, spread, 0}, {0.5, 4 + d * spread, spread, 1}}), mixed - alone, 0.05) << d;
    }
}

// What no reading tells apart is taken together: many states of one story that say nearly the same are worth what one of them is.
TEST(Information, AlikeCountAsOne) {
    std::vector<Outcome> many = {{0.3, 0.7, 0.1, 0}}, one = {{0.3, 0.7, 0.1, 0}, {0.7, 1.6, 0.1, 1}};
    for (int k = 0; k < 70; ++k) many.push_back({0.01, 1.6 + 1e-5 * k, 0.1, 1});
    EXPECT_NEAR(reading_information(many), reading_information(one), 1e-3);
}

TEST(Information, WhatIsLeftOutTellsNothing) {
    const std::vector<Outcome> half = {{0.25, 1, 0.1, 0}, {0.25, 5, 0.1, 1}};
    std::vector<Outcome> whole = half;
    for (auto& o : whole) o.p *= 2;
    EXPECT_NEAR(reading_information(half), 0.5 * reading_information(whole), 1e-9);
}

TEST(Information, WordsTellWhatTheirChancesDiffer) {
    EXPECT_NEAR(word_information({{0.5, {1, 0}}, {0.5, {0, 1}}}), 1, 1e-12);
    EXPECT_NEAR(word_information({{0.5, {0.7, 0.3}}, {0.5, {0.7, 0.3}}}), 0, 1e-12);
    EXPECT_GT(word_information({{0.5, {0.9, 0.1}}, {0.5, {0.2, 0.8}}}), 0.3);
}
