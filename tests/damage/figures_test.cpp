// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "board/nominal.h"
#include "circuit/energised.h"
#include "damage/figures.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Figures figures(const Board& b, const std::vector<std::string>& texts, double load = 1) {
    const auto bad = faults(b, texts);
    return FiguresModel(b, find_roles(b)).of(bad, BehaviourModel(b, find_roles(b)).judge(bad), load);
}

std::size_t rail(const Board& b, const std::string& net) {
    for (std::size_t r = 0; r < b.rails.size(); ++r)
        if (b.rails[r].net == net) return r;
    ADD_FAILURE() << net;
    return 0;
}

} // namespace

TEST(Figures, AGoodUnitKeepsItsRails) {
    for (const char* name : {"rb6-fresh", "sw3-flyback-integrated", "bd2-self-oscillating", "tl12-half-bridge", "fd1-linear",
                             "tm4-ac-fed-split", "gl1-adapter", "cr8-buck", "rb6-rail", "fc1-inverter"}) {
        const Board b = demo(name).board;
        const auto f = figures(b, {});
        ASSERT_EQ(f.rails.size(), b.rails.size());
        for (std::size_t r = 0; r < b.rails.size(); ++r) {
            EXPECT_NEAR(f.rails[r].volts, b.rails[r].volts, 0.01 * std::fabs(b.rails[r].volts)) << name << " " << b.rails[r].net;
            EXPECT_LT(f.rails[r].ripple, 0.35 * std::fabs(b.rails[r].volts)) << name << " " << b.rails[r].net;
        }
    }
}

TEST(Figures, TheBulkRipplesAsTheLineCycleSays) {
    const Board& b = demo_board();
    const auto t = find_roles(b);
    const auto healthy = bulk_ripple(b.mains->volts, b.mains->hertz, bulk_farads(b, t), t.input_watts);
    EXPECT_NEAR(figures(b, {}).bulk_ripple, healthy.peak_volts - healthy.valley_volts, 1e-6);
    EXPECT_GT(figures(b, {"C5:dry"}).bulk_ripple, 2.5 * figures(b, {}).bulk_ripple);
    EXPECT_LT(figures(b, {}, 0.1).bulk_ripple, 0.2 * figures(b, {}).bulk_ripple);
    EXPECT_EQ(figures(b, {"BR1:short@~1+", "F1:open"}).bulk_volts, 0);
}

// dV = I / (2 f C) of a full-wave rectifier: Horowitz and Hill, The Art of Electronics, chapter 1 (from memory).
TEST(Figures, AReservoirFallsBetweenTwoCrests) {
    Board b = board({"J1 connector - 1=LI 1'=L 2=NI 2'=N stage=mains-in", "T1 transformer - P1=L P2=N S1=A S2=B stage=switch",
                     "BR1 bridge - ~1=A ~2=B +=OUT -=0V stage=rectify-out", "C1 electrolytic 4700u +=OUT -=0V stage=smooth"});
    b.mains = Mains{230, 50};
    b.rails = {{"OUT", "0V", 20, 0.1, 2, -1, -1}};
    b = make_board(b)->board;
    const double textbook = 2 / (2 * 50 * 4700e-6);
    EXPECT_NEAR(figures(b, {}).rails[0].ripple, textbook, 1e-6);
    EXPECT_NEAR(figures(b, {"C1:dry"}).rails[0].ripple, textbook / 0.3, 0.01 * textbook);
    EXPECT_NEAR(figures(b, {"BR1:open@~1+"}).rails[0].ripple, 2 * textbook, 1e-6); // half wave
    EXPECT_LT(figures(b, {"C1:dry"}).rails[0].volts, figures(b, {}).rails[0].volts - textbook);
}

TEST(Figures, ADryOutputCapacitorShowsAsRippleOnItsRail) {
    const Board& b = demo_board();
    const auto r = rail(b, "+12V");
    const int dry = [&] {
        for (int i = 0; i < static_cast<int>(b.parts.size()); ++i)
            if (b.part(i).stage == "smooth" && b.part(i).kind == PartKind::Electrolytic && b.part(i).net("+") == b.rails[r].net_id)
                return i;
        return -1;
    }();
    ASSERT_GE(dry, 0);
    const auto sick = figures(b, {b.part(dry).ref + ":dry"});
    EXPECT_GT(sick.rails[r].ripple, 2 * figures(b, {}).rails[r].ripple);
    EXPECT_NEAR(sick.rails[rail(b, "+24V")].ripple, figures(b, {}).rails[rail(b, "+24V")].ripple, 1e-3);
}

TEST(Figures, WhatDoesNotRunHasNoVolts) {
    const Board& b = demo_board();
    for (const auto& dead : {std::vector<std::string>{"F1:open"}, {"Q1:ds-short"}, {"U1:dead"}})
        for (const auto& f : figures(b, dead).rails) EXPECT_EQ(f.volts, 0);
    EXPECT_GT(figures(b, {"U1:dead"}).bulk_volts, 300);
    EXPECT_EQ(figures(b, {"F1:open"}).bulk_volts, 0);
}

TEST(Figures, OnlyTheRailBehindALostRegulatorClimbs) {
    const Board b = demo("fd1-linear").board;
    const auto t = find_roles(b);
    ASSERT_FALSE(t.pass.empty());
    const auto f = figures(b, {b.part(t.pass.front()).ref + ":ce-short"});
    EXPECT_GT(f.rails[0].volts, 1.3 * b.rails[0].volts);
}

// A loop that is lost moves what it compares: of a converter's windings all rails, of a chip with its own divider one; behind a regulator
// nothing is seen of it.
TEST(Figures, ALostLoopMovesTheRailsThatItCompares) {
    const Board flyback = demo("rb6-fresh").board;
    const auto climbed = figures(flyback, {"OK1:open"}), held = figures(flyback, {"R19:open"});
    for (std::size_t r = 0; r < flyback.rails.size(); ++r) {
        EXPECT_GT(std::fabs(climbed.rails[r].volts), 1.2 * std::fabs(flyback.rails[r].volts)) << flyback.rails[r].net;
        EXPECT_LT(std::fabs(held.rails[r].volts), 0.9 * std::fabs(flyback.rails[r].volts)) << flyback.rails[r].net;
    }

    Board b = board({"J1 connector - 1=IN.o 1'=IN 2=0V.o 2'=0V stage=mains-in", "C1 electrolytic 470u +=IN -=0V stage=bulk",
                     "U1 integrated-switch - VIN=IN SW=SA GND=0V FB=FA stage=switch", "L1 inductor 22u 1=SA 2=+5V stage=smooth",
                     "R1 resistor 52k3 1=+5V 2=FA stage=feedback", "R2 resistor 10k 1=FA 2=0V stage=feedback",
                     "U2 integrated-switch - VIN=IN SW=SB GND=0V FB=FB stage=switch", "L2 inductor 22u 1=SB 2=+3V3 stage=smooth",
                     "R3 resistor 31k6 1=+3V3 2=FB stage=feedback", "R4 resistor 10k 1=FB 2=0V stage=feedback"});
    b.rails = {{"+5V", "0V", 5, 0.05, 1, -1, -1}, {"+3V3", "0V", 3.3, 0.05, 1, -1, -1}};
    b = make_board(b)->board;
    const auto five = rail(b, "+5V"), three = rail(b, "+3V3");
    EXPECT_GT(figures(b, {"R1:open"}).rails[five].volts, 6);
    EXPECT_NEAR(figures(b, {"R1:open"}).rails[three].volts, 3.3, 0.1);
    EXPECT_LT(figures(b, {"R4:open"}).rails[three].volts, 3);
    EXPECT_NEAR(figures(b, {"R4:open"}).rails[five].volts, 5, 0.1);
}
