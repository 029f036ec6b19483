// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading is worth, against sums that can be done by hand.
#include "support/demo.h"

#include "advice/outcomes.h"
#include "base/statistics.h"
#include "readings/likelihood.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Prediction ohms_at(double value, double sigma) {
    Prediction p;
    p.value = value;
    p.x = score_axis(Quantity::Ohms, value);
    p.sigma = sigma;
    return p;
}

double worth(const std::vector<std::pair<Prediction, double>>& cases, double least = 0) {
    std::vector<std::pair<const Prediction*, double>> list;
    for (const auto& [p, mass] : cases) list.emplace_back(&p, mass);
    return reading_information(shipped_practice(), list, Quantity::Ohms, -1, least);
}

double bits(double p) { return -p * std::log2(p) - (1 - p) * std::log2(1 - p); }

} // namespace

TEST(Information, FarApartTellsNearlyAllAndTheSameTellsNothing) {
    const auto short_circuit = ohms_at(0.3, 0.05), sound = ohms_at(1e5, 0.05);
    const double told = worth({{short_circuit, 0.25}, {sound, 0.75}});
    EXPECT_LT(told, bits(0.25));
    EXPECT_GT(told, 0.8 * bits(0.25)); // slips take the rest
    EXPECT_EQ(worth({{sound, 0.4}, {sound, 0.6}}), 0);
    EXPECT_EQ(worth({{sound, 1}}), 0);
}

// Two equal chances whose readings lie d deviations apart: by numerical integration of the mixture's entropy.
TEST(Information, OverlapIsWhatTheIntegralSays) {
    for (double d : {0.5, 1.0, 2.0, 3.0}) {
        double mixed = 0, alone = 0;
        for (double x = -8; x < 8 + d; x += 1e-3) {
            const double p = normal_density(x, 0, 1), q = normal_density(x, d, 1), m = (p + q) / 2;
            mixed -= m * std::log2(m) * 1e-3;
            alone -= p * std::log2(p) * 1e-3;
        }
        const double sigma = 0.2;
        auto a = ohms_at(100, sigma), b = a;
        b.x = a.x + d * sigma;
        EXPECT_NEAR(worth({{a, 0.5}, {b, 0.5}}), (mixed - alone) * (1 - shipped_practice().blunder), 0.02) << d;
    }
}

// What no reading tells apart is taken together: many stories that say nearly the same are worth what one of them is.
TEST(Information, AlikeCountAsOne) {
    const auto short_circuit = ohms_at(2, 0.1);
    std::vector<std::pair<Prediction, double>> many = {{short_circuit, 0.3}}, one = {{short_circuit, 0.3}, {ohms_at(5, 0.1), 0.7}};
    for (int i = 0; i < 70; ++i) many.emplace_back(ohms_at(5 * std::exp(1e-4 * (i - 35)), 0.1), 0.01);
    EXPECT_NEAR(worth(many), worth(one), 0.01);
    auto over = ohms_at(0, 0.1);
    over.over = true;
    EXPECT_GT(worth({{over, 0.5}, {ohms_at(5, 0.1), 0.5}}), 0.8);
}

// Where two grades of spread meet, spreads 3 % apart may be counted in different units: values twenty deviations apart are not alike there.
TEST(Information, FarApartStaysApartAtEverySpread) {
    for (double grade = -4.6; grade < -4.4; grade += 0.0025) {
        auto near = ohms_at(100, std::exp(grade)), far = ohms_at(100, 1.03 * std::exp(grade));
        far.x = near.x * std::exp(0.05);
        EXPECT_GT(worth({{near, 0.5}, {far, 0.5}}), 0.8) << grade;
        auto two_peaks = near;
        two_peaks.alternate_x = far.x;
        EXPECT_GT(worth({{near, 0.5}, {two_peaks, 0.5}}), 0.2) << grade;
    }
}

TEST(Information, WhatCannotComeToTheLeastIsBelowIt) {
    const auto a = ohms_at(0.3, 0.05), b = ohms_at(1e5, 0.05);
    const double exact = worth({{a, 1e-4}, {b, 1 - 1e-4}});
    EXPECT_LT(exact, 0.0015);
    EXPECT_LT(worth({{a, 1e-4}, {b, 1 - 1e-4}}, 0.01), 0.01);
    EXPECT_DOUBLE_EQ(worth({{a, 0.2}, {b, 0.8}}, 0.01), worth({{a, 0.2}, {b, 0.8}}));
}

TEST(Information, AKnownPartTakesItsSpreadOff) {
    auto a = ohms_at(100, 0.3), b = ohms_at(130, 0.3);
    for (auto* p : {&a, &b}) p->by_part = {{7, 0, 0.29, 0}};
    const std::vector<std::pair<const Prediction*, double>> list = {{&a, 0.5}, {&b, 0.5}};
    EXPECT_GT(reading_information(shipped_practice(), list, Quantity::Ohms, 7),
              2 * reading_information(shipped_practice(), list, Quantity::Ohms));
}

TEST(Information, WordsTellWhatTheirChancesDiffer) {
    EXPECT_NEAR(word_information({{0.5, {1, 0}}, {0.5, {0, 1}}}), 1, 1e-12);
    EXPECT_NEAR(word_information({{0.5, {0.3, 0.7}}, {0.5, {0.3, 0.7}}}), 0, 1e-12);
    EXPECT_EQ(word_information({{1, {0.3, 0.7}}}), 0);
}
