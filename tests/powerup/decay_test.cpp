// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/decay.h"

#include "powerup/store_paths.h"

#include "support/demo.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

namespace ohmo {
namespace {

const Practice& figures() { return shipped_practice(); }

std::vector<ChargeReading> falling(double volts, double tau, const std::vector<double>& seconds) {
    std::vector<ChargeReading> out;
    for (double t : seconds) out.push_back({1000 + t, volts * std::exp(-t / tau)});
    return out;
}

TEST(Decay, FitsAnExponentialAndSaysWhen) {
    const auto d = fit_decay(figures(), falling(320, 40, {0, 30, 60, 90}), 42);
    EXPECT_EQ(d.verdict, DecayVerdict::Falls);
    EXPECT_NEAR(d.tau, 40, 1e-6);
    const auto when = when_below(d, 10);
    ASSERT_TRUE(when);
    EXPECT_NEAR(when->at_seconds, 1000 + 40 * std::log(32), 1e-6); // closed form
    EXPECT_GT(when->sigma, 1);
    EXPECT_LT(when->sigma, 15);
}

// What is said to be uncertain is as uncertain as it turns out to be.
TEST(Decay, ItsDeviationsAreHonest) {
    std::mt19937 random(7);
    std::normal_distribution<double> noise;
    const double truth = 1000 + 60 * std::log(32);
    int inside = 0, games = 0;
    for (; games < 2000; ++games) {
        std::vector<ChargeReading> readings;
        for (double t : {0.0, 20.0, 45.0, 80.0})
            readings.push_back({1000 + t + figures().decay_seconds_doubt * noise(random),
                                320 * std::exp(-t / 60) * (1 + figures().decay_share * noise(random))});
        const auto when = when_below(fit_decay(figures(), readings, 0), 10);
        ASSERT_TRUE(when);
        inside += std::fabs(when->at_seconds - truth) < 2 * when->sigma;
    }
    EXPECT_GT(inside, games * 0.92); // 95.4 of 100 for a normal deviation
    EXPECT_LT(inside, games * 0.985);
}

TEST(Decay, TellsAnOpenBleederFromALeadThatIsOff) {
    EXPECT_EQ(fit_decay(figures(), falling(320, 400, {0, 60}), 40).verdict, DecayVerdict::Slow);
    EXPECT_EQ(fit_decay(figures(), falling(320, 5, {0, 8}), 40).verdict, DecayVerdict::Fast);
    EXPECT_EQ(fit_decay(figures(), {{0, 320}, {60, 319}}, 40).verdict, DecayVerdict::Stands);
    EXPECT_EQ(fit_decay(figures(), {{0, 320}, {60, 0.4}, {200, 6}}, 40).verdict, DecayVerdict::Recovers);
    EXPECT_EQ(fit_decay(figures(), {{0, 100}, {60, 300}}, 40).verdict, DecayVerdict::Rises);
    EXPECT_EQ(fit_decay(figures(), {{0, 320}}, 40).verdict, DecayVerdict::TooFew);
    EXPECT_EQ(fit_decay(figures(), {{5, 320}, {5, 100}}, 40).verdict, DecayVerdict::TooFew);
    EXPECT_FALSE(when_below(fit_decay(figures(), {{0, 320}, {60, 319}}, 40), 10));
}

TEST(Stores, EveryCapacitorThatCanHurt) {
    const auto& b = test::demo_board();
    const auto stores = charged_stores(b, find_roles(b));
    ASSERT_FALSE(stores.empty());
    EXPECT_TRUE(stores.front().bulk);
    EXPECT_NEAR(stores.front().joules, 0.5 * stores.front().farads * stores.front().volts * stores.front().volts, 1e-9);
    EXPECT_NEAR(stores.front().volts, 230 * std::sqrt(2.0), 3) << "the crest, whatever a film capacitor beside it is rated for";
    for (const auto& s : stores) EXPECT_TRUE(s.volts >= hazard_volts() || s.joules >= figures().weld_joules);
    EXPECT_NEAR(most_volts(b), 230 * std::sqrt(2.0) * 2.2, 1e-9);
}

// 100 uF behind two resistors of 220 k in series: 44 s, and both named. One with nothing across it stays.
TEST(StorePaths, NameWhatEmptiesACapacitor) {
    const Board b = test::board({"C1 electrolytic 100u +=HV -=0V volts=400", "R1 resistor 220k 1=HV 2=M", "R2 resistor 220k 1=M 2=0V",
                                 "R3 resistor 10M 1=HV 2=0V", "C2 film 4u7 1=A 2=B volts=630"});
    const auto paths = store_paths(b, find_roles(b));
    ASSERT_EQ(paths.size(), 2U);
    EXPECT_EQ(paths[0].store.parts, std::vector{test::at(b, "C1")});
    EXPECT_NEAR(paths[0].tau, 100e-6 / (1 / 440e3 + 1 / 10e6), 0.5);
    EXPECT_EQ(paths[0].through.size(), 2U) << "not the ten megohms beside them";
    EXPECT_FALSE(std::isfinite(paths[1].tau));
    EXPECT_TRUE(paths[1].through.empty());
}

} // namespace
} // namespace ohmo
