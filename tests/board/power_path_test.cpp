// SPDX-License-Identifier: GPL-3.0-or-later
// Who does what, and how energy gets to the rails, on the ten demo boards and on small ones.
#include "support/demo.h"

#include "board/power_path.h"
#include "powerup/discharge.h"

#include <numbers>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const std::vector<std::string>& jobs() {
    static const std::vector<std::string> names = {"rb6-fresh",
                                                   "sw3-flyback-integrated",
                                                   "bd2-self-oscillating",
                                                   "tl12-half-bridge",
                                                   "fd1-linear",
                                                   "gl1-adapter",
                                                   "tm4-ac-fed-split",
                                                   "cr8-buck",
                                                   "rb6-rail",
                                                   "fc1-inverter"};
    return names;
}

std::vector<std::string> refs(const Board& b, const std::vector<int>& parts) {
    std::vector<std::string> out;
    for (int i : parts) out.push_back(b.part(i).ref);
    std::sort(out.begin(), out.end());
    return out;
}

using Refs = std::vector<std::string>;

} // namespace

TEST(BoardRoles, FindsTheSwitchesOfEveryFamily) {
    const std::map<std::string, Refs> expected = {{"rb6-fresh", {"Q1"}},
                                                  {"sw3-flyback-integrated", {"U1"}},
                                                  {"bd2-self-oscillating", {"Q1", "Q2"}},
                                                  {"tl12-half-bridge", {"Q1", "Q2"}},
                                                  {"fd1-linear", {}},
                                                  {"gl1-adapter", {}},
                                                  {"tm4-ac-fed-split", {}},
                                                  {"cr8-buck", {"Q1", "Q2"}},
                                                  {"rb6-rail", {}},
                                                  {"fc1-inverter", {"Q1", "Q2"}}};
    for (const auto& [name, switches] : expected) {
        const Board b = demo(name).board;
        EXPECT_EQ(refs(b, find_roles(b).switches), switches) << name;
    }
}

TEST(BoardRoles, LineTransformersAndPassTransistors) {
    const Board linear = demo("fd1-linear").board, adapter = demo("gl1-adapter").board, flyback = demo_board();
    EXPECT_EQ(refs(linear, {find_roles(linear).line_transformer}), Refs{"T1"});
    EXPECT_EQ(refs(linear, find_roles(linear).pass), Refs{"Q1"}); // not its driver, nor the error amplifier
    EXPECT_EQ(refs(adapter, {find_roles(adapter).line_transformer}), Refs{"T1"});
    EXPECT_EQ(find_roles(flyback).line_transformer, -1);
    EXPECT_TRUE(find_roles(flyback).pass.empty());
}

TEST(BoardRoles, StackedBulkCapacitorsHaveOuterEnds) {
    const Board b = demo("tl12-half-bridge").board;
    const auto t = find_roles(b);
    EXPECT_TRUE(t.stacked);
    EXPECT_EQ(b.net_name(t.hv), "HV");
    EXPECT_EQ(b.net_name(t.primary_ground), "PGND");
    EXPECT_NEAR(bulk_farads(b, t), 235e-6, 1e-9); // two of 470 uF in series
    EXPECT_NEAR(bulk_volts(b, t), std::numbers::sqrt2 * 230, 1e-6);
    const Board one = demo_board();
    EXPECT_FALSE(find_roles(one).stacked);
}

TEST(BoardRoles, ParallelBulkCapacitorsAdd) {
    Board b = board({"C1 electrolytic 100u +=HV -=PGND", "C2 electrolytic 47u +=HV -=PGND"});
    for (auto& p : b.parts) p.stage = "bulk";
    EXPECT_NEAR(bulk_farads(b, find_roles(b)), 147e-6, 1e-9);
    EXPECT_EQ(bulk_farads(board({"R1 resistor 1k 1=A 2=B"}), find_roles(board({"R1 resistor 1k 1=A 2=B"}))), 0);
}

// A high-voltage capacitor that no mains feeds stores its charge all the same.
TEST(BoardRoles, InverterStoresItsHighVoltage) {
    const Job job = demo("fc1-inverter");
    const auto t = find_roles(job.board);
    EXPECT_EQ(bulk_volts(job.board, t), 320);
    const auto d = plan_discharge(job.board, find_roles(job.board), {});
    ASSERT_TRUE(d);
    EXPECT_NEAR(d->joules, 0.5 * 100e-6 * 320 * 320, 1e-6);
    EXPECT_GT(d->predicted_tau, 5);
    EXPECT_FALSE(replay(job).cold_unlocked);
    Entry low;
    low.act = Do::Discharge;
    low.value = 0.4;
    EXPECT_TRUE(replay(job.with(low)).cold_unlocked);
}

TEST(BoardRoles, BoardsWithoutStoredChargeAreOpenAtOnce) {
    for (const char* name : {"fd1-linear", "gl1-adapter", "tm4-ac-fed-split", "cr8-buck", "rb6-rail"}) {
        EXPECT_TRUE(replay(demo(name)).cold_unlocked) << name;
        EXPECT_FALSE(plan_discharge(demo(name).board, find_roles(demo(name).board), {})) << name;
    }
}

TEST(PowerPath, EveryRailIsFedWhenNothingIsWrong) {
    for (const auto& name : jobs()) {
        const Board b = demo(name).board;
        const PowerPath path = find_roles(b).path;
        EXPECT_TRUE(path.has_input()) << name;
        EXPECT_TRUE(path.input_fed({})) << name;
        for (std::size_t r = 0; r < b.rails.size(); ++r) {
            const auto feed = path.rails({})[r];
            EXPECT_GT(feed.whole, 0) << name << " " << b.rails[r].net;
            EXPECT_EQ(feed.left, feed.whole) << name << " " << b.rails[r].net;
        }
    }
}

// Opening parts never feeds more: the same for every family, part by part.
TEST(PowerPath, OpeningPartsOnlyTakesAway) {
    for (const auto& name : jobs()) {
        const Board b = demo(name).board;
        const PowerPath path = find_roles(b).path;
        std::mt19937 random(3);
        for (int k = 0; k < 60; ++k) {
            std::vector<Fault> one = {{static_cast<int>(random() % b.parts.size()), FaultMode::Open, {}}};
            auto two = one;
            two.push_back({static_cast<int>(random() % b.parts.size()), FaultMode::Open, {}});
            EXPECT_TRUE(path.input_fed(one) || !path.input_fed(two));
            const auto some = path.rails(one), fewer = path.rails(two);
            for (std::size_t r = 0; r < some.size(); ++r) {
                EXPECT_LE(some[r].left, some[r].whole);
                EXPECT_LE(fewer[r].left, some[r].left);
            }
        }
    }
}

TEST(PowerPath, RectifiersPassOneWay) {
    Board b = board({"J1 connector - 1=A.in 1'=A 2=G.in 2'=G", "D1 diode - A=A K=P", "D2 diode - A=N K=A"});
    b.parts[0].stage = "mains-in";
    b.rails = {{"P", "G", 12, 0.05, 0.1}, {"N", "G", -12, 0.05, 0.1}};
    const auto made = make_board(b);
    ASSERT_TRUE(made);
    const PowerPath path = find_roles(made->board).path;
    EXPECT_EQ(path.rails({})[0].left, 1);
    EXPECT_EQ(path.rails({})[1].left, 1); // a negative rail is reached against the arrow
    EXPECT_EQ(path.rails(faults(made->board, {"D1:open"}))[0].left, 0);
    EXPECT_EQ(path.rails(faults(made->board, {"D1:open"}))[1].left, 1);
}

TEST(PowerPath, HalfARectifierLeavesHalfTheFeed) {
    const Board b = demo("bd2-self-oscillating").board;
    const PowerPath path = find_roles(b).path;
    const auto feed = path.rails(faults(b, {"D5:open"}))[0];
    EXPECT_EQ(feed.whole, 2);
    EXPECT_EQ(feed.left, 1);
    EXPECT_EQ(path.rails(faults(b, {"D5:open", "D6:open"}))[0].left, 0);
}

// What pulls a rail down sits on its own nets, not behind a resistor that holds it off.
TEST(PowerPath, RailNetsEndAtRectifiersAndResistors) {
    const Board b = demo_board();
    const PowerPath path = find_roles(b).path;
    const auto on = [&](std::size_t rail, const char* net) {
        return path.rail_nets(rail)[static_cast<std::size_t>(*b.find_net(net))] != 0;
    };
    EXPECT_TRUE(on(0, "+24A"));
    EXPECT_FALSE(on(0, "S24"));
    EXPECT_FALSE(on(2, "OPA")); // behind 470 ohm
    EXPECT_FALSE(on(0, "+5V"));
}

TEST(PowerPath, AnOpenVoltageLinkPassesNothing) {
    const Board b = demo("tl12-half-bridge").board;
    const PowerPath path = find_roles(b).path;
    EXPECT_TRUE(path.input_fed(faults(b, {"SW2:open"}))); // it was never closed
    const auto reading = ohms(b, "AC2", "BM");
    EXPECT_TRUE(reading.over || reading.value > 1e5);
}
