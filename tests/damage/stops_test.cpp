// SPDX-License-Identifier: GPL-3.0-or-later
// What a converter cannot do without, on boards of several: what stops with it and what goes on. Common practice, no source.
#include "damage/supply_bench.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

struct Bench : SupplyBench {
    using SupplyBench::SupplyBench;
    // These rails are gone, and the others stand.
    void loses(const std::string& by, const std::vector<std::string>& gone) {
        for (std::size_t r = 0; r < board.rails.size(); ++r) {
            const bool lost = std::find(gone.begin(), gone.end(), board.rails[r].net) != gone.end();
            EXPECT_NEAR(volts(r, by) / board.rails[r].volts, lost ? 0 : 1, 0.2) << by << " " << board.rails[r].net;
        }
    }
};

} // namespace

// Supply pins, gate resistors and timing of the main chip, which is not the first on the list.
TEST(Stops, TheMainConverterBesideAStandbyOne) {
    Bench b("fringe-knotter");
    for (const char* by : {"C5:short", "C6:short", "R8:open", "R7:open", "U3:dead", "Q2:open"}) b.loses(by, {"+24V"});
    for (const char* by : {"R4:open", "R9:open", "D5:open"}) b.loses(by, {});
    b.loses("C2:short", {"+24V", "+5VS"}); // what both run from
}

TEST(Stops, WhatTheBulkCapacitorNoLongerFeeds) {
    Bench b("heddle-heater");
    ASSERT_EQ(b.board.net_name(b.roles.hv), "H1") << "the second capacitor stands behind a coil";
    for (const char* by : {"L1:open", "C3:short", "D2:open", "L2:open"}) {
        EXPECT_EQ(b.running(by), Running::NoStart) << by;
        b.loses(by, {"+12V", "+5V"});
    }
    EXPECT_EQ(b.running("RF1:open"), Running::NoInput);
}

TEST(Stops, AnAlternatingFeedNeedsBothItsContacts) {
    Bench b("valve-control");
    EXPECT_EQ(b.model.judge(std::vector<Fault>{}).running, Running::Normal);
    for (const char* by : {"F1:open", "J1:open@1-1'", "J1:open@2-2'"}) EXPECT_EQ(b.running(by), Running::NoInput) << by;
    EXPECT_EQ(b.running("D1:open"), Running::Weak) << "the other half wave is left";
    b.loses("D5:open", {"+5V", "+3V3"});
}

TEST(Stops, ACatchDiodeBehindAWindingWeakens) {
    Bench b("point-heater");
    EXPECT_EQ(b.running("D6:open"), Running::Weak);
    b.loses("D8:open", {"+5V"});
    EXPECT_EQ(b.running("C4:short"), Running::NoStart) << "the supply of the chip on its way from the input";
}

// The second leg of a full bridge hangs on the winding by a capacitor.
TEST(Stops, BothLegsOfAFullBridge) {
    Bench b("felt-welder");
    for (const char* sw : {"Q1", "Q2", "Q3", "Q4"}) {
        EXPECT_TRUE(b.roles.is_switch(at(b.board, sw))) << sw;
        EXPECT_EQ(b.running(std::string(sw) + ":ds-short"), Running::BlowsFuse) << sw;
    }
    EXPECT_EQ(b.board.part(b.roles.controller).ref, "U1") << "not the chip of the standby supply";
}

TEST(Stops, WhatLiesAcrossTheLine) {
    Bench b("warp-bench");
    EXPECT_EQ(b.running("RV1:short"), Running::BlowsFuse);
    EXPECT_EQ(b.running("Q3:ce-short"), Running::High) << "the driver of the pass transistors";
}

// The only part that leads to a chip's supply or enable pin.
TEST(Stops, WhatAChipLivesByAlone) {
    const Board inverter = demo("fc1-inverter").board, buck = demo("cr8-buck").board;
    BehaviourModel of_inverter(inverter, find_roles(inverter)), of_buck(buck, find_roles(buck));
    const auto starts = [&](const char* role) {
        for (const auto& part : inverter.parts)
            if (part.role == role) return of_inverter.judge(faults(inverter, {part.ref + ":open"})).running;
        return Running::Normal;
    };
    EXPECT_EQ(starts("controller supply resistor"), Running::NoInput) << "it passes the input on";
    int enables = 0;
    for (const auto& part : buck.parts)
        if (part.role == "enable resistor") {
            ++enables;
            EXPECT_EQ(of_buck.judge(faults(buck, {part.ref + ":open"})).running, Running::NoStart) << part.ref;
        }
    EXPECT_EQ(enables, 1);
}

// An output bridge behind the rails: its chip takes none of them along, its shorts take the fuse.
TEST(Stops, ChipsOfLegsLeaveTheRails) {
    const Board board = demo("fc1-inverter").board;
    BehaviourModel model(board, find_roles(board));
    ASSERT_FALSE(find_roles(board).legs.empty());
    EXPECT_EQ(model.judge(faults(board, {"U2:dead"})).running, Running::Weak);
}

// A Zener that holds a rail behind a resistor: the resistor open or the Zener shorted, nothing is there, nor at the regulator behind, and
// the supply that feeds it runs on; the Zener open, it climbs.
TEST(Stops, ARailThatAZenerHolds) {
    SupplyBench it("bobbin-counter");
    for (const char* by : {"R9:open", "D4:short"}) {
        EXPECT_LT(it.volts("+12V", by), 2) << by;
        EXPECT_LT(it.volts("+5V", by), 2) << by;
        EXPECT_GT(it.volts("+24V", by), 22) << by;
        EXPECT_EQ(it.running(by), Running::Weak) << by;
    }
    EXPECT_EQ(it.running("D4:open"), Running::High);
    EXPECT_LT(it.volts("+5V", "U2:dead"), 2);
    EXPECT_GT(it.volts("+12V", "U2:dead"), 11);
}

// A regulator at the input, beside a converter that has nothing to do with it.
TEST(Stops, ARailThatTheInputFeedsBesideAConverter) {
    SupplyBench it("card-feeder");
    EXPECT_LT(it.volts("+12V", "U3:dead"), 1);
    EXPECT_GT(it.volts("+5V", "U3:dead"), 4.5);
    EXPECT_GT(it.volts("+12V", "U1:dead"), 11);
    EXPECT_LT(it.volts("+5V", "U1:dead"), 1);
    EXPECT_LT(it.volts("+12V", "D1:open"), 1);
    EXPECT_LT(it.volts("+12V", "C7:short"), 1);
    EXPECT_GT(it.volts("+5V", "C7:short"), 4.5) << "the regulator limits what it draws";
}

// What lies across one of a pair of switches shorts it; of two bulk capacitors in series the other gets all the volts; without the
// capacitor that keeps direct current out of it the winding saturates.
TEST(Stops, AShortBesideWhatSwitches) {
    Bench oscillating(demo("bd2-self-oscillating").board), driven(demo("tl12-half-bridge").board);
    for (const char* by : {"D1:short", "D2:short"}) EXPECT_EQ(oscillating.running(by), Running::BlowsFuse) << by;
    for (const char* by : {"C3:short", "C4:short"}) EXPECT_EQ(oscillating.running(by), Running::Hiccup) << by;
    for (const char* by : {"C2:short", "C3:short"}) EXPECT_EQ(driven.running(by), Running::BlowsFuse) << by;
    EXPECT_EQ(driven.running("C4:short"), Running::Hiccup);
    EXPECT_EQ(driven.running("C16:short"), Running::Normal) << "somewhere else";
}
