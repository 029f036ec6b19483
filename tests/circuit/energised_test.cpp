// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/energised.h"
#include "circuit/surge.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

// Check value 6, worked: 230 V 50 Hz full wave, 60 W, two drops of 0.9 V.
TEST(BulkRipple, ValleysOfFourCapacitors) {
    EXPECT_NEAR(bulk_ripple(230, 50, 68e-6, 60).valley_volts, 298.8, 0.15);
    EXPECT_NEAR(bulk_ripple(230, 50, 47e-6, 60).valley_volts, 288.2, 0.15);
    EXPECT_NEAR(bulk_ripple(230, 50, 33e-6, 60).valley_volts, 274.0, 0.15);
    EXPECT_NEAR(bulk_ripple(230, 50, 20e-6, 60).valley_volts, 243.4, 0.15);
}

TEST(BulkRipple, RunsEmptyWhenTooSmall) {
    const auto r = bulk_ripple(230, 50, 1e-6, 60);
    EXPECT_FALSE(r.sustained);
    EXPECT_DOUBLE_EQ(bulk_ripple(230, 50, 68e-6, 0).valley_volts, bulk_ripple(230, 50, 68e-6, 0).peak_volts);
}

// Check values 7 and 8, worked; the exponent 0.55 is a handbook figure from memory.
TEST(Lamp, OperatingPoints) {
    const Lamp lamp{60, 230, 0.55};
    EXPECT_NEAR(*lamp_points(lamp, 230, 5).upper, 227.4, 0.1);
    EXPECT_NEAR(*lamp_points(lamp, 230, 10).upper, 220.4, 0.1);
    EXPECT_NEAR(*lamp_points(lamp, 230, 20).upper, 182.5, 0.1);
    EXPECT_FALSE(lamp_points(lamp, 230, 40).upper);
    EXPECT_NEAR(lamp_points({40, 230, 0.55}, 230, 1).most_watts, 14.6, 0.05);
    EXPECT_NEAR(lamp_points({60, 230, 0.55}, 230, 1).most_watts, 21.9, 0.05);
    EXPECT_NEAR(lamp_points({100, 230, 0.55}, 230, 1).most_watts, 36.5, 0.05);
    EXPECT_NEAR(lamp_points({60, 230, 0.55}, 230, 1).most_at_volts, 148, 0.5);
}

TEST(Lamp, BothPointsCarryTheLoad) {
    for (double watts : {2.0, 8.0, 15.0, 21.0}) {
        const Lamp lamp{60, 230, 0.55};
        const auto points = lamp_points(lamp, 230, watts);
        ASSERT_TRUE(points.upper && points.lower);
        for (double v : {*points.upper, *points.lower}) EXPECT_NEAR(v * lamp.amps(230 - v), watts, 1e-3);
        EXPECT_GT(*points.upper, *points.lower);
    }
}

// Check values 2, 3 and 29, worked.
TEST(Decay, ClosedForms) {
    const double tau = tau_from_readings(328, 190, 30);
    EXPECT_NEAR(tau, 54.9, 0.1);
    EXPECT_NEAR(decay_seconds(328, 60, tau), 93.3, 0.2);
    EXPECT_NEAR(decay_seconds(328, 30, tau), 131.4, 0.2);
    EXPECT_NEAR(decay_seconds(328, 10, tau), 191.8, 0.3);
    EXPECT_NEAR(stored_joules(68e-6, 325), 3.59, 0.01);
    EXPECT_NEAR(decay_seconds(325, 10, 10e3 * 68e-6), 2.37, 0.01);
    EXPECT_NEAR(300e3 * 68e-6, 20.4, 0.01);
    EXPECT_NEAR(decay_seconds(325, 60, 300e3 * 68e-6), 34.5, 0.05);
    EXPECT_DOUBLE_EQ(decay_seconds(5, 10, 1), 0);
}

namespace {

SurgeResult surge(const std::vector<std::string>& initial, double seconds = 0.02, bool sustain = true) {
    SurgeOptions options;
    options.seconds = seconds;
    options.sustain = sustain;
    const auto result = SurgeBoard(demo_board(), find_roles(demo_board())).run(faults(demo_board(), initial), {}, options, {});
    EXPECT_TRUE(result);
    return result ? *result : SurgeResult{};
}

const Stress* stress(const SurgeResult& r, const char* ref) {
    for (const auto& s : r.stresses)
        if (demo_board().part(s.becomes.part).ref == ref) return &s;
    return nullptr;
}

} // namespace

TEST(Surge, HealthyBoardStressesNothing) {
    const auto r = surge({});
    for (const auto& s : r.stresses) EXPECT_LT(s.ratio(), 1) << demo_board().part(s.becomes.part).ref;
}

TEST(Surge, SwitchShortDumpsTheBulkCapacitorThroughTheSenseResistor) {
    const auto r = surge({"Q1:ds-short"});
    EXPECT_GT(r.bulk_joules_dumped, 4.5); // of 5.3 J stored
    ASSERT_NE(stress(r, "R9"), nullptr);
    EXPECT_GT(stress(r, "R9")->ratio(), 5);
    ASSERT_NE(stress(r, "F1"), nullptr);
    EXPECT_GT(stress(r, "F1")->ratio(), 0.5);
    EXPECT_EQ(stress(r, "D6"), nullptr); // the other side of the transformer is not reached
}

TEST(Surge, SecondaryFaultLeavesThePrimaryAlone) {
    const auto r = surge({"C16:short"});
    for (const auto& s : r.stresses) EXPECT_LT(s.ratio(), 1);
}

// Energy cannot appear: what the resistors took is bounded by what the capacitor held plus what the mains brought in this time.
TEST(Surge, SenseEnergyGrowsWithTime) {
    double before = 0;
    for (double seconds : {0.0005, 0.002, 0.01}) {
        const auto r = surge({"Q1:ds-short"}, seconds, false);
        const double joules = stress(r, "R9") != nullptr ? stress(r, "R9")->value : 0;
        EXPECT_GE(joules, before);
        before = joules;
    }
}

TEST(Surge, NeedsABulkCapacitor) {
    const Board b = board({"R1 resistor 1k 1=A 2=B"});
    EXPECT_EQ(SurgeBoard(b, find_roles(b)).run({}, {}, {}, {}).problem().kind, ProblemKind::SolveFailed);
}

TEST(Surge, CanBeCancelled) {
    const auto token = CancelToken::make();
    token.cancel();
    EXPECT_EQ(SurgeBoard(demo_board(), find_roles(demo_board())).run(faults(demo_board(), {"Q1:ds-short"}), {}, {}, token).problem().kind,
              ProblemKind::Cancelled);
}
