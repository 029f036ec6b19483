// SPDX-License-Identifier: GPL-3.0-or-later
#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>
#include <random>
#include <set>
#include <string>
#include <vector>

#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Slow and obvious: full conductance matrix of a resistor network, solved with full pivoting.
double brute_ohms(int nodes, const std::vector<Resistive>& resistors, int from, int to) {
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(nodes, nodes);
    for (const auto& r : resistors) {
        g(r.a, r.a) += 1 / r.ohms;
        g(r.b, r.b) += 1 / r.ohms;
        g(r.a, r.b) -= 1 / r.ohms;
        g(r.b, r.a) -= 1 / r.ohms;
    }
    g.row(to).setZero();
    g(to, to) = 1;
    Eigen::VectorXd current = Eigen::VectorXd::Zero(nodes);
    current[from] = 1;
    current[to] = 0;
    return g.fullPivLu().solve(current)[from];
}

Netlist random_network(std::mt19937& random, int nodes) {
    Netlist n;
    n.nodes = nodes;
    std::uniform_real_distribution<double> decade(-1, 6);
    const auto add = [&](int a, int b) { n.resistors.push_back({a, b, std::pow(10, decade(random)), 0.02, 0}); };
    for (int i = 1; i < nodes; ++i) add(i, static_cast<int>(random() % static_cast<unsigned>(i)));
    for (int k = 0; k < nodes; ++k) {
        const int a = static_cast<int>(random() % static_cast<unsigned>(nodes)),
                  b = static_cast<int>(random() % static_cast<unsigned>(nodes));
        if (a != b) add(a, b);
    }
    return n;
}

} // namespace

TEST(DcSolver, ResistorsAgreeWithTheObviousSolution) {
    std::mt19937 random(11);
    for (int run = 0; run < 60; ++run) {
        const Netlist n = random_network(random, 3 + run % 25);
        const DcSolver solver(n);
        for (int from = 0; from < n.nodes; ++from) {
            const int to = (from + 1 + static_cast<int>(random() % static_cast<unsigned>(n.nodes - 1))) % n.nodes;
            if (from == to) continue;
            const double expected = brute_ohms(n.nodes, n.resistors, from, to);
            EXPECT_NEAR(solver.solve(from, to, 1e-3).volts / 1e-3 / expected, 1, 1e-6);
        }
    }
}

TEST(DcSolver, ResistorsReadTheSameBothWays) {
    std::mt19937 random(5);
    const Netlist n = random_network(random, 20);
    const DcSolver solver(n);
    for (int i = 1; i < 20; ++i) EXPECT_NEAR(solver.solve(0, i, 1e-3).volts / solver.solve(i, 0, 1e-3).volts, 1, 1e-9);
}

// Check value 25: a short beyond a series resistor can never read below it.
TEST(DcSolver, SeriesResistorIsALowerBound) {
    const Board b = board({"R1 resistor 15R 1=IN 2=OUT", "C1 ceramic 100n 1=OUT 2=GND", "R2 resistor 1k 1=IN 2=GND"});
    const double shorted = ohms(b, "IN", "GND", faults(b, {"C1:short"})).value;
    EXPECT_GT(shorted, 14.8);
    EXPECT_LT(shorted, 15.5);
}

TEST(DcSolver, OtherIslandsReadOpen) {
    const Board& b = demo_board();
    const DcSolver solver(expand(b, {}, {}));
    EXPECT_FALSE(solver.connected(*b.find_net("HV"), *b.find_net("+24V")));
    EXPECT_TRUE(ohms(b, "HV", "+24V").over);
    EXPECT_TRUE(ohms(b, "L", "0V").over);
}

// Trap 1 of updates by subtraction: a true open must never read as megohms.
TEST(DcSolver, EveryOpenSeriesPartReadsOpenAlone) {
    const Board& b = demo_board();
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i) {
        const auto& p = b.part(i);
        if (!is_resistor_like(p.kind) && p.kind != PartKind::Fuse) continue;
        BoardState alone;
        alone.lifted.assign(b.parts.size(), 1);
        alone.lifted[static_cast<std::size_t>(i)] = 0;
        const std::vector<Fault> open = {{i, FaultMode::Open, {}}};
        const DcSolver solver(expand(b, alone, open));
        EXPECT_TRUE(read_dc(solver, {}, Quantity::Ohms, p.pins[0].id, p.pins[1].id).over) << p.ref;
    }
}

// Trap 3: leaving junctions out changes healthy readings; both polarities matter.
TEST(DcSolver, JunctionsAndPolarityCount) {
    const Board b = board({"R1 resistor 10k 1=A 2=B", "D1 diode 1000V_1A A=A K=B"});
    const double forward = ohms(b, "A", "B").value, backward = ohms(b, "B", "A").value;
    EXPECT_LT(forward, 0.8 * backward);
    EXPECT_NEAR(backward, 10e3, 150);
    const auto parts = ohms(b, "A", "B").conducting;
    EXPECT_EQ(parts, (std::vector<int>{1}));
}

TEST(DcSolver, ConvergesOnTheDemoUnderEverySingleFault) {
    const Board& b = demo_board();
    int solved = 0;
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i)
        for (auto mode : modes_of(b.part(i).kind)) {
            const std::vector<Fault> one = {{i, mode, b.part(i).kind == PartKind::Bridge ? "~1+" : ""}};
            const DcSolver solver(expand(b, {}, one));
            for (const auto& part : b.parts) {
                const int a = part.pins.front().id, c = part.pins.back().id;
                if (a == c || !solver.connected(a, c)) continue;
                for (double amps : {1e-3, 0.75e-6, -1e-3}) {
                    const auto point = amps > 0 ? solver.solve(a, c, amps) : solver.solve(c, a, -amps);
                    ASSERT_TRUE(point.converged) << b.part(i).ref << " " << mode_name(mode) << " read at " << part.ref;
                    ASSERT_TRUE(std::isfinite(point.volts));
                    ++solved;
                }
            }
        }
    EXPECT_GT(solved, 20000);
}

// Spread by adjoint sensitivities (first order) against Monte Carlo on the same tolerances; wide junction spreads cost up to 15 %.
TEST(DcSolver, SpreadAgreesWithMonteCarlo) {
    const Netlist base = expand(demo_board(), {}, {});
    const Board& b = demo_board();
    for (const auto& [red, black] :
         std::vector<std::pair<const char*, const char*>>{{"+24V", "0V"}, {"+5V", "0V"}, {"GATE", "PGND"}, {"L1", "N"}}) {
        const int from = *b.find_net(red), to = *b.find_net(black);
        const double amps = 4e-4;
        const double predicted = DcSolver(base).solve(from, to, amps).ln_sigma;
        std::mt19937 random(1);
        std::normal_distribution<double> normal;
        double sum = 0, squares = 0;
        const int draws = 1500;
        for (int k = 0; k < draws; ++k) {
            Netlist drawn = base;
            for (auto& r : drawn.resistors) r.ohms *= std::exp(r.ln_sigma * normal(random));
            for (auto& j : drawn.junctions) j.is *= std::exp(j.ln_sigma * normal(random));
            const double x = std::log(DcSolver(drawn).solve(from, to, amps).volts);
            sum += x;
            squares += x * x;
        }
        const double spread = std::sqrt(squares / draws - std::pow(sum / draws, 2));
        EXPECT_NEAR(predicted / spread, 1, 0.25) << red; // a load is known to a factor: the straight line bends
    }
}

// Two large Schottky halves behind a winding, against the current of the lowest range: their leaks cannot carry it, so they break down.
// The conductance stamped for zero bias must not take the series resistance twice, or the pair conducts backwards and Newton runs wild.
TEST(DcSolver, BlockedSchottkyPairBreaksDown) {
    Netlist net;
    net.nodes = 4;
    for (int end : {1, 2}) {
        net.resistors.push_back({end, 3, 0.02, 0.1, 0});
        net.junctions.push_back({end, 0, 1e-5, 1.05, 187.5, 0.5, end, 0.012, 2});
    }
    net.resistors.push_back({0, 3, kOpenOhms, 0.1, 0});
    const DcSolver solver(net);
    for (double amps : {1e-3, 4e-4, 7.5e-5}) {
        const auto p = solver.solve(0, 3, amps);
        EXPECT_TRUE(p.converged) << amps;
        EXPECT_NEAR(p.volts, 187.5, 1) << amps;
    }
    const double volts = solver.solve(0, 3, 7.5e-6).volts; // below what they leak: both in parallel, exactly
    EXPECT_NEAR(7.5e-6, 2 * 1e-5 * -std::expm1(-volts / (1.05 * kThermalVolts)), 1e-8);
}

TEST(DcSolver, OptionsAndCancelAreObeyed) {
    Netlist net;
    net.nodes = 2;
    net.junctions.push_back({0, 1, 5e-9, 1.9, 0, 0.5, 7});
    net.resistors.push_back({0, 1, 10e3, 0.02, 0});
    DcOptions few;
    few.iterations = 1;
    const auto unsettled = DcSolver(net, few).solve(0, 1, 4e-4);
    EXPECT_FALSE(unsettled.converged);
    EXPECT_EQ(unsettled.failed_part, 7);
    DcOptions stopped;
    stopped.cancel = CancelToken::make();
    const DcSolver solver(net, stopped);
    EXPECT_TRUE(solver.solve(0, 1, 4e-4).converged);
    stopped.cancel.cancel();
    const auto cancelled = solver.solve(0, 1, 4e-4);
    EXPECT_FALSE(cancelled.converged);
    EXPECT_EQ(cancelled.failed_part, -1);
}
