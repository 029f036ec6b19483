// SPDX-License-Identifier: GPL-3.0-or-later
// Chips that run from what a transistor hands on, and rails behind pass transistors of their own. Common practice, no source.
#include "board/supply_switches.h"

#include "damage/supply_bench.h"

#include <gtest/gtest.h>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::set<std::string> refs(const Board& board, const std::vector<int>& parts) {
    std::set<std::string> out;
    for (int i : parts) out.insert(board.part(i).ref);
    return out;
}

} // namespace

// A standby side turns the main chip's supply on by an optocoupler and a PNP transistor.
TEST(SupplySwitches, TurnedOnByAStandbySide) {
    SupplyBench b("fringe-knotter");
    ASSERT_EQ(b.roles.supply_switches.size(), 1u);
    const auto& found = b.roles.supply_switches.front();
    EXPECT_EQ(b.board.part(found.part).ref, "Q1");
    EXPECT_EQ(b.board.part(found.chip).ref, "U3");
    EXPECT_EQ(b.board.net_name(found.from), "VS");
    EXPECT_EQ(refs(b.board, found.open_stops), (std::set<std::string>{"R5", "R6", "OK2"})) << "R4 holds it off";
    for (const char* by : {"Q1:open", "R5:open", "OK2:open", "OK2:weak", "R6:open"}) {
        EXPECT_LT(b.volts("+24V", by), 1) << by;
        EXPECT_NEAR(b.volts("+5VS", by), 5, 0.5) << by;
    }
    EXPECT_NEAR(b.volts("+24V", "R4:open"), 24, 2);
}

// A follower with a Zener diode at its base: from the input, until a winding takes over.
TEST(SupplySwitches, ARegulatorToStartFrom) {
    SupplyBench b("point-heater");
    ASSERT_EQ(b.roles.supply_switches.size(), 1u);
    const auto& found = b.roles.supply_switches.front();
    EXPECT_EQ(b.board.part(found.part).ref, "Q1");
    EXPECT_EQ(refs(b.board, found.open_stops), std::set<std::string>{"R1"});
    EXPECT_EQ(refs(b.board, found.short_stops), std::set<std::string>{"D2"});
    EXPECT_FALSE(b.roles.is_switch(found.part)) << "it stands at the same reservoir as the winding";
    for (const char* by : {"Q1:open", "R1:open", "D2:short", "D3:open"}) EXPECT_LT(b.volts("+12V", by), 1) << by;
    EXPECT_NEAR(b.volts("+12V", "D2:open"), 12, 1);
}

TEST(SupplySwitches, VoltsAtTheChipTell) {
    const Job job = with_all(foreign("fringe-knotter"), {said("dead"), live("volts-dc", "HV", "PG", 322), live("volts-dc", "+5VS", "0V", 5),
                                                         live("volts-dc", "+24V", "0V", 0)});
    const auto before = analyse(job), nothing = analyse(with_all(job, {live("volts-dc", "VCC", "PG", 0)})),
               there = analyse(with_all(job, {live("volts-dc", "VCC", "PG", 15)}));
    const auto handed = [](const Analysis& a) { return bad(a, "Q1") + bad(a, "OK2") + bad(a, "R5") + bad(a, "R6") + bad(a, "C5"); };
    EXPECT_GT(handed(*nothing), 0.6);
    EXPECT_GT(bad(*before, "D7"), 3 * bad(*nothing, "D7"));
    EXPECT_LT(bad(*there, "OK2") + bad(*there, "R5") + bad(*there, "R6"), 0.05);
    EXPECT_LT(bad(*nothing, "D7"), 0.05) << "a rectifier takes no volts from the chip";
}

// A bench supply: one rail by a pair of transistors, their driver and a chip, two more by regulators of their own.
TEST(Converters, ARailOfPassTransistorsGoesAlone) {
    SupplyBench b("warp-bench");
    for (const char* by : {"U1:dead", "Q3:open", "R5:open"}) {
        EXPECT_LT(b.volts("+30V", by), 1) << by;
        EXPECT_NEAR(b.volts("+15V", by), 15, 1) << by;
        EXPECT_NEAR(b.volts("-5V", by), -5, 1) << by;
    }
    EXPECT_GT(b.volts("+30V", "Q1:open"), 20) << "the other one of the pair is left";
    EXPECT_LT(b.volts("+30V", "U2:open"), 1) << "it feeds the chip";
    const auto alone = analyse(with_all(foreign("warp-bench"), {said("dead"), live("volts-dc", "VR", "0V", 43),
                                                                live("volts-dc", "+15V", "0V", 15), live("volts-dc", "+30V", "0V", 0)}));
    EXPECT_GT(bad(*alone, "U1"), 0.08);
    EXPECT_GT(bad(*alone, "Q3"), 0.04);
    EXPECT_LT(bad(*alone, "F1") + bad(*alone, "F2"), 0.02);
}

// The pass transistor is a PNP one, and an NPN one draws its base current.
TEST(Converters, ARailByAPnpTransistorAndItsDriver) {
    Board draft = board({"J1 connector - 1=LI 1'=L 2=NI 2'=N stage=mains-in", "F1 fuse T1A 1=L 2=L1 stage=mains-in",
                         "T1 transformer - P1=L1 P2=N S1=A S2=B stage=barrier", "BR1 bridge - ~1=A ~2=B +=VR -=0V stage=rectify-out",
                         "C1 electrolytic 2200u +=VR -=0V stage=smooth", "Q1 bjt-pnp 60V E=VR B=PB C=+12V stage=smooth",
                         "R1 resistor 1k 1=VR 2=PB stage=control", "Q2 bjt-npn 45V C=PB B=DB E=0V stage=control",
                         "R2 resistor 4k7 1=OA 2=DB stage=control", "R3 resistor 10k 1=DB 2=0V stage=control",
                         "U1 controller - VCC=VR OUT=OA GND=0V stage=control", "C2 electrolytic 470u +=+12V -=0V stage=smooth",
                         "U2 regulator 5V IN=VR OUT=+5V GND=0V stage=smooth", "C3 electrolytic 100u +=+5V -=0V stage=smooth"});
    draft.mains = Mains{230, 50};
    draft.rails = {{.net = "+12V", .ret = "0V", .volts = 12, .amps = 1}, {.net = "+5V", .ret = "0V", .volts = 5, .amps = 0.3}};
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    const Board& b = made->board;
    BehaviourModel model(b, find_roles(b));
    const auto lost = [&](const std::string& by) { return model.judge(faults(b, {by})).lost; };
    for (const char* by : {"U1:dead", "Q2:open", "R2:open", "Q1:open"}) EXPECT_EQ(lost(by), (std::vector<char>{1, 0})) << by;
    for (const char* by : {"R1:open", "R3:open"}) EXPECT_EQ(lost(by), (std::vector<char>{0, 0})) << by << " holds it off";
    for (const char* by : {"Q2:ce-short", "Q1:ce-short"}) EXPECT_EQ(model.judge(faults(b, {by})).running, Running::High) << by;
}
