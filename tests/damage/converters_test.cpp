// SPDX-License-Identifier: GPL-3.0-or-later
// Several converters on a board: what stops with one, and what goes on.
#include "damage/converters.h"

#include "damage/supply_bench.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

// A battery's board: one stage steps up, another beside it down.
TEST(Converters, EachStopsByItself) {
    SupplyBench b("fence-box");
    EXPECT_NEAR(b.volts("+12V", "U1:dead"), 12, 1);
    EXPECT_NEAR(b.volts("+12V", "Q1:open"), 12, 1);
    EXPECT_LT(b.volts("+60V", "U1:dead"), 55) << "no more than the battery gives";
    EXPECT_NEAR(b.volts("+60V", "U2:dead"), 60, 4);
    EXPECT_LT(b.volts("+12V", "U2:dead"), 1);
    EXPECT_EQ(b.model.judge(faults(b.board, {"U1:dead"})).running, Running::NoStart) << "most of what it gives";
    EXPECT_EQ(b.model.judge(faults(b.board, {"U2:dead"})).running, Running::Weak);
}

TEST(Converters, OneIsAll) {
    const Board& board = demo_board();
    const Converters converters(board, find_roles(board));
    EXPECT_EQ(converters.stopped_with(at(board, "U1")), nullptr);
    BehaviourModel model(board, find_roles(board));
    EXPECT_EQ(model.judge(faults(board, {"U1:dead"})).running, Running::NoStart);
}

// Chips with their switches inside, named controllers as well: a step-down one, one on its output, one that inverts, a regulator.
TEST(Converters, ChipsThatSwitchByThemselves) {
    SupplyBench b("loom-control");
    EXPECT_FALSE(b.roles.line_fed()) << "no short of a rail takes the fuse";
    const auto only = [&](const std::string& by, const std::vector<std::string>& gone) {
        for (const auto& rail : b.board.rails) {
            const bool lost = std::find(gone.begin(), gone.end(), rail.net) != gone.end();
            EXPECT_NEAR(b.volts(rail.net, by), lost ? 0 : rail.volts, 0.31 * std::fabs(rail.volts)) << by << " " << rail.net;
        }
    };
    only("U1:dead", {"+5V", "+3V3", "+1V8"});
    only("L2:open", {"+5V", "+3V3", "+1V8"});
    only("U2:dead", {"+3V3", "+1V8"});
    only("U4:dead", {"-15V"});
    only("D3:short", {"-15V"});
    only("U3:open", {"+1V8"});
    only("C7:short", {"+1V8"}); // 1.5 A at the most, which the rail that feeds it can give
    only("C6:short", {"+3V3", "+1V8"});
    EXPECT_EQ(b.model.judge(faults(b.board, {"C6:short"})).running, Running::Weak);
    EXPECT_EQ(b.model.judge(faults(b.board, {"D2:short"})).running, Running::Hiccup) << "most of what it gives";
    EXPECT_EQ(b.model.judge(faults(b.board, {"C1:short"})).running, Running::BlowsFuse);
    for (const char* by : {"F1:open", "D1:open", "L1:open", "J1:open@1-1'", "J1:open@2-2'"})
        EXPECT_EQ(b.model.judge(faults(b.board, {by})).running, Running::NoInput) << by;
}

TEST(Converters, AStandbyOneGoesOn) {
    SupplyBench b("felt-welder");
    EXPECT_NEAR(b.volts("+15V", "C8:dry"), 15, 2) << "the supply of the main chip";
    EXPECT_LT(b.volts("+48V", "C8:dry"), 24);
    EXPECT_EQ(b.model.judge(faults(b.board, {"C8:dry"})).running, Running::Hiccup);
    EXPECT_NEAR(b.volts("+15V", "C6:short"), 15, 2);
    EXPECT_LT(b.volts("+48V", "U3:dead"), 1) << "which runs from the standby supply";
}

// 110 V direct, isolated: each contact for itself has to get there, and what is shorted behind the fuse takes it.
TEST(Converters, DirectInputBehindAnIsolation) {
    SupplyBench b("winch-drive");
    EXPECT_EQ(b.model.judge(std::vector<Fault>{}).running, Running::Normal);
    for (const char* by : {"F1:open", "RT1:open", "D1:open", "J1:open@1-1'", "J1:open@2-2'", "LF1:open@1-2"})
        EXPECT_EQ(b.model.judge(faults(b.board, {by})).running, Running::NoInput) << by;
    for (const char* by : {"Q1:ds-short", "C1:short"}) EXPECT_EQ(b.model.judge(faults(b.board, {by})).running, Running::BlowsFuse) << by;
}
