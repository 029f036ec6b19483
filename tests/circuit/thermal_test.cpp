// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/thermal.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

using namespace ohmo;

namespace {

double steady_amps(double watts, double rated_volts, double volts) {
    Netlist net;
    net.nodes = 2;
    net.resistors = {{0, 1, 10, 0, 0}};
    TransientOptions options;
    options.longest_step = 1e-3;
    Transient run(net, {{0, 1, 1e-3, volts, 0, 0, 0}}, options);
    ThermalParts heat(run, {filament_lamp(0, watts, rated_volts)});
    while (run.now() < 3) {
        const double then = run.now();
        if (!run.step(3)) return 0;
        heat.after_step(run.now() - then);
    }
    return std::fabs(run.resistor_amps(0));
}

} // namespace

TEST(Filament, TakesItsRatingAndFollowsTheHandbooksPower) {
    EXPECT_NEAR(steady_amps(60, 230, 230), 60.0 / 230, 0.01);
    // I ~ V^e with e between 0.5 and 0.6 (handbook range, from memory).
    const double exponent = std::log(steady_amps(60, 230, 230) / steady_amps(60, 230, 115)) / std::log(2.0);
    EXPECT_GT(exponent, 0.5);
    EXPECT_LT(exponent, 0.6);
}

TEST(Filament, ColdIsAFourteenthOfHot) {
    const auto lamp = filament_lamp(0, 60, 230);
    EXPECT_NEAR(230.0 * 230 / 60 / lamp.ohms(), 14, 1.5); // common practice: ten to fifteen times
}

// The bench's rule: a flash, then dim: the bulk capacitor has charged; bright and staying bright: a short.
TEST(LampStart, FlashThenDimAgainstStayingBright) {
    const auto good = lamp_start(230, 50, 60, 100e-6, 300e3), shorted = lamp_start(230, 50, 60, 100e-6, 2);
    EXPECT_GT(good.brightest_watts, 15);
    EXPECT_LT(good.settled_watts, 1);
    EXPECT_NEAR(good.bulk_volts, 325, 6);
    EXPECT_GT(shorted.settled_watts, 50);
    EXPECT_GT(shorted.seconds_bright, 1.5);
    EXPECT_LT(good.seconds_bright, 0.6);
}

TEST(Thermistor, NtcFallsAndPtcRises) {
    ThermalPart ntc = inrush_thermistor(0, 5, 3);
    ntc.kelvin = 440;
    EXPECT_LT(ntc.ohms(), 0.4);
    EXPECT_NEAR(ntc.cooling_watts(), 9 * ntc.ohms(), 0.01); // at its rating it holds that temperature
    ThermalPart ptc;
    ptc.law = ThermalPart::Law::Ptc;
    ptc.ohms25 = 20;
    EXPECT_DOUBLE_EQ(ptc.ohms(), 20);
    ptc.kelvin = ptc.knee + 40;
    EXPECT_NEAR(ptc.ohms(), 2000, 1);
}
