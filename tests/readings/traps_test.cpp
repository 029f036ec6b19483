// SPDX-License-Identifier: GPL-3.0-or-later
// Each of these went wrong once in a study of the engine; docs/physics.md lists them with the tests that guard the others.
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

// Slow and obvious: Newton on every node of the network, short steps, nothing left out.
double brute_volts(const Netlist& net, int from, int to, double amps) {
    Eigen::VectorXd v = Eigen::VectorXd::Zero(net.nodes);
    for (int iteration = 0; iteration < 20'000; ++iteration) {
        Eigen::MatrixXd g = Eigen::MatrixXd::Zero(net.nodes, net.nodes);
        Eigen::VectorXd out = Eigen::VectorXd::Zero(net.nodes); // amperes leaving a node
        const auto add = [&](int a, int b, double current, double slope) {
            out[a] += current;
            out[b] -= current;
            g(a, a) += slope;
            g(b, b) += slope;
            g(a, b) -= slope;
            g(b, a) -= slope;
        };
        for (const auto& r : net.resistors) add(r.a, r.b, (v[r.a] - v[r.b]) / r.ohms, 1 / r.ohms);
        for (const auto& j : net.junctions) {
            const double vt = j.n * kThermalVolts, e = std::exp(std::min((v[j.anode] - v[j.cathode]) / vt, 100.0));
            add(j.anode, j.cathode, j.is * (e - 1) + kJunctionLeak * (v[j.anode] - v[j.cathode]), j.is / vt * e + kJunctionLeak);
        }
        out[from] -= amps;
        out[to] += amps;
        g.row(to).setZero();
        g(to, to) = 1;
        out[to] = v[to];
        Eigen::VectorXd step = -g.partialPivLu().solve(out);
        const double largest = step.cwiseAbs().maxCoeff();
        if (largest > 0.05) step *= 0.05 / largest;
        v += step;
        if (largest < 1e-12) break;
    }
    return v[from] - v[to];
}

} // namespace

// 2: no conductance to ground on every net: 15 Mohm reads 15 Mohm, and what is not connected reads open.
TEST(Traps, NothingLeaksToGroundBehindTheScenes) {
    const Board b = board({"R1 resistor 15M 1=A 2=B", "R2 resistor 1k 1=C 2=D", "R3 resistor 2k 1=D 2=E"});
    EXPECT_NEAR(ohms(b, "A", "B").value / 15e6, 1, 1e-3);
    EXPECT_TRUE(ohms(b, "A", "C").over);
}

// 3: junctions conduct near zero bias too: a 10 A Schottky (10 uA saturation, n 1.05) is about 2.7 kohm both ways at a few millivolts.
TEST(Traps, LargeSchottkyNearZeroBias) {
    const Board b = board({"D1 schottky 60V_10A A=A K=B"});
    const DcSolver solver(expand(b, {}, {}));
    for (auto [red, black] : {std::pair(0, 1), std::pair(1, 0)}) EXPECT_NEAR(solver.solve(red, black, 1e-7).volts / 1e-7, 2716, 30);
}

// 4: the reduction to conducting junctions leaves nothing out that matters.
TEST(Traps, ReducedNewtonAgreesWithEveryNodeSolved) {
    std::mt19937 random(31);
    std::uniform_real_distribution<double> decade(1, 5), saturation(-13, -6), ideality(1, 2);
    for (int run = 0; run < 40; ++run) {
        Netlist net;
        net.nodes = 4 + run % 6;
        for (int i = 1; i < net.nodes; ++i)
            net.resistors.push_back({i, static_cast<int>(random() % static_cast<unsigned>(i)), std::pow(10, decade(random)), 0.02, 0});
        for (int k = 0; k < 6; ++k) {
            const int a = static_cast<int>(random() % static_cast<unsigned>(net.nodes)),
                      c = (a + 1 + static_cast<int>(random() % 2)) % net.nodes;
            net.junctions.push_back({a, c, std::pow(10, saturation(random)), ideality(random), 0, 0.5, 1});
        }
        const double amps = run % 2 == 0 ? 1e-3 : 7.5e-6;
        const double slow = brute_volts(net, 0, net.nodes - 1, amps);
        EXPECT_NEAR(DcSolver(net).solve(0, net.nodes - 1, amps).volts, slow, 1e-3 * std::fabs(slow) + 1e-6) << "network " << run;
    }
}

// 7, on the board: +24V, the minimum load and the load board's pins see the same resistor 4 % high; nothing is condemned for it.
TEST(Traps, OneResistorAtItsEdgeIsNotBad) {
    Board drawn = demo_board();
    const auto r23 = static_cast<std::size_t>(at(drawn, "R23"));
    drawn.parts[r23].ohms = 2200 * 1.045;
    Job job = demo("rb6-fresh");
    for (auto [red, black] : {std::pair("+24V", "0V"), std::pair("+24A", "0V"), std::pair("S24", "0V"), std::pair("0V", "+24V")})
        job = job.with(read("ohms", red, black, ohms(drawn, red, black).value));
    EXPECT_LT(bad(*analyse(job), "R23"), 0.05);
}

// 9: a dead controller is electrically silent: no cold reading raises it, and the answer says that none can settle it.
TEST(Traps, SilentFaultsAreNotSettledCold) {
    const Board& b = demo_board();
    EXPECT_FALSE(settled_cold(b, fault(b, "U1:dead")));
    EXPECT_FALSE(settled_cold(b, fault(b, "OK1:weak")));
    EXPECT_TRUE(settled_cold(b, fault(b, "Q1:ds-short")));
}
