// SPDX-License-Identifier: GPL-3.0-or-later
// The transient solver against closed forms; against ngspice in tests/reference.
#include "circuit/transient.h"

#include "circuit/energised.h"

#include <gtest/gtest.h>

#include <cmath>
#include <numbers>

using namespace ohmo;

namespace {

double run_to(Transient& run, double until) {
    while (run.now() < until)
        if (!run.step(until)) {
            ADD_FAILURE() << "stopped at " << run.now();
            break;
        }
    return run.now();
}

// Check value 29: a 150k+150k bleeder beside 68 uF: 20.4 s; 325 V fall to 60 V in 34.5 s. Worked.
TEST(Transient, BleederEmptiesTheBulkCapacitor) {
    Netlist net;
    net.nodes = 3;
    net.resistors = {{0, 1, 150e3, 0, 0}, {1, 2, 150e3, 0, 0}};
    net.capacitors = {{0, 2, 68e-6, 0.1, 0, 0, 0}};
    TransientOptions options;
    options.longest_step = 1;
    Transient run(net, {}, options, {{325}, {}});
    run_to(run, 34.5);
    EXPECT_NEAR(run.volts(0, 2), 60, 0.2);
    EXPECT_NEAR(decay_seconds(325, 60, 300e3 * 68e-6), 34.5, 0.05);
}

// R-L-C with little damping: frequency and envelope, 100 periods on. Worked: exp(-R t / 2 L), cos(w t).
TEST(Transient, RingingKeepsItsFrequencyAndEnvelope) {
    Netlist net;
    net.nodes = 2;
    net.capacitors = {{0, 1, 1e-6, 1e-6, 0, 0, 0}};
    net.cores = {{{{0, 1, 1e-3, 0.2}}, 0, 0, 0, 1}};
    TransientOptions options;
    options.longest_step = 2e-6;
    options.relative = 1e-6;
    options.volts = options.amps = 1e-6;
    Transient run(net, {}, options, {{10}, {}});
    const double decay = 0.2 / 2e-3, omega = std::sqrt(1e9 - decay * decay);
    const double end = 10 * 2 * std::numbers::pi / omega;
    run_to(run, end);
    EXPECT_NEAR(run.volts(0, 1), 10 * std::exp(-decay * end), 0.05);
}

TEST(Transient, LateStepsAreLong) {
    Netlist net;
    net.nodes = 2;
    net.resistors = {{0, 1, 1e3, 0, 0}};
    net.capacitors = {{0, 1, 1e-6, 0.1, 0, 0, 0}};
    TransientOptions options;
    options.longest_step = 0.01;
    Transient run(net, {}, options, {{100}, {}});
    int steps = 0;
    while (run.now() < 0.2 && run.step(0.2)) ++steps;
    EXPECT_LT(steps, 250);
    EXPECT_NEAR(run.volts(0, 1), 0, 1e-3);
}

// Energy put in is energy taken out plus energy stored.
TEST(Transient, EnergyIsKept) {
    Netlist net;
    net.nodes = 4;
    net.resistors = {{1, 2, 10, 0, 0}, {3, 0, 5, 0, 1}};
    net.capacitors = {{2, 0, 20e-6, 0.05, 0, 0, 2}};
    net.junctions = {{2, 3, 5e-9, 1.9, 0, 0, 3, 0.05}};
    TransientOptions options;
    options.longest_step = 1e-5;
    Transient run(net, {{1, 0, 1, 0, 30, 200, 0}}, options);
    double in = 0, out = 0, before_in = 0, before_out = 0;
    while (run.now() < 0.02) {
        const double then = run.now();
        ASSERT_TRUE(run.step(0.02));
        const double dt = run.now() - then;
        const double i = run.source_amps(0), power_in = i * (run.volts(1, 0)), ic = run.capacitor_amps(0);
        const double id = run.junction_amps(0);
        const double power_out =
            std::pow(run.resistor_amps(0), 2) * 10 + std::pow(run.resistor_amps(1), 2) * 5 + ic * ic * 0.05 + id * run.volts(2, 3);
        in += (power_in + before_in) / 2 * dt;
        out += (power_out + before_out) / 2 * dt;
        before_in = power_in;
        before_out = power_out;
    }
    const double stored = 0.5 * 20e-6 * std::pow(run.state().capacitor_volts[0], 2);
    EXPECT_NEAR(in, out + stored, 0.01 * in);
}

TEST(Transient, StopsAreMet) {
    Netlist net;
    net.nodes = 2;
    net.resistors = {{0, 1, 10, 0, 0}};
    TransientOptions options;
    options.stops = {3.3e-4, 7.7e-4};
    options.longest_step = 1e-3;
    Transient run(net, {{0, 1, 1, 5, 0, 0, 0}}, options);
    std::vector<double> ends;
    while (run.now() < 1e-3 && run.step(1e-3)) ends.push_back(run.now());
    for (double stop : options.stops) EXPECT_NE(std::find(ends.begin(), ends.end(), stop), ends.end());
}

// Check value 26: a 12 V source through 1 ohm never gives more than 12 A, whatever it feeds.
TEST(Transient, SourceResistanceBoundsTheCurrent) {
    Netlist net;
    net.nodes = 2;
    net.resistors = {{0, 1, 1e-3, 0, 0}};
    Transient run(net, {{0, 1, 1, 12, 0, 0, 0}}, {});
    run_to(run, 1e-3);
    EXPECT_LE(run.source_amps(0), 12);
    EXPECT_GT(run.source_amps(0), 11.9);
}

// Transformer of two windings, secondary loaded: volts as the turns. Worked for close coupling.
TEST(Transient, WindingsTransform) {
    Netlist net;
    net.nodes = 4;
    net.cores = {{{{0, 1, 1, 0.01}, {2, 3, 0.01, 0.001}}, 0.9999, 0, 0, 0}};
    net.resistors = {{2, 3, 10, 0, 1}, {1, 3, 1e6, 0, 2}};
    TransientOptions options;
    options.longest_step = 5e-5;
    Transient run(net, {{0, 1, 1, 0, 100, 50, std::numbers::pi / 2}}, options);
    double top = 0;
    while (run.now() < 0.1 && run.step(0.1))
        if (run.now() > 0.06) top = std::max(top, run.volts(2, 3));
    EXPECT_NEAR(top, 10, 0.3);
}

TEST(Inrush, ResistanceBoundsItAndTheCrestIsReached) {
    const auto bare = inrush(230, 50, 1, 100e-6, std::numbers::pi / 2), soft = inrush(230, 50, 11, 100e-6, std::numbers::pi / 2);
    EXPECT_LT(bare.peak_amps, 325.3);
    EXPECT_GT(bare.peak_amps, 250);
    EXPECT_LT(soft.peak_amps, 325.3 / 11);
    EXPECT_GT(soft.settled_at, bare.settled_at);
    EXPECT_NEAR(bare.bulk_volts, 325.3 - 1.6, 2.5);
    // At a zero of the line the capacitor follows the rise: far less.
    EXPECT_LT(inrush(230, 50, 1, 100e-6, 0).peak_amps, 0.3 * bare.peak_amps);
}

// Check value 28: half sine of 10 ms: the square of the peak times 5 ms (data-sheet convention). 11: dissipation factor 0.20 of 120 uF at
// 120 Hz is 2.21 ohm. 12: 22 uF from 16 V to 10 V at 5 mA holds 26.4 ms. Worked.
TEST(ClosedForms, HalfSineDissipationAndHoldTime) {
    EXPECT_DOUBLE_EQ(half_sine_i2t(30), 4.5);
    double sum = 0;
    for (int i = 0; i < 10000; ++i) sum += std::pow(30 * std::sin(std::numbers::pi * (i + 0.5) / 10000), 2) * 0.01 / 10000;
    EXPECT_NEAR(half_sine_i2t(30), sum, 1e-6);
    EXPECT_NEAR(esr_from_dissipation(120e-6, 0.20, 120), 2.21, 0.005);
    EXPECT_NEAR(hold_seconds(22e-6, 16, 10, 5e-3), 26.4e-3, 1e-5);
}

} // namespace
