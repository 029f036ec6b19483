// SPDX-License-Identifier: GPL-3.0-or-later
// Transistors in series with a whole supply: who they are, and that a short behind one is felt through it.
#include "board/series_switches.h"
#include "damage/behaviour.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// A boost converter behind a switch at the supply's or at the return's end, and a coil that another transistor switches.
Board boost(bool high_side) {
    std::vector<std::string> lines = {"J1 connector - 1=P.in 1'=P 2=M.in 2'=M", "F1 fuse T4A 1=P 2=P1"};
    if (high_side)
        for (const char* line : {"Q1 mosfet 60V_10A D=VIN G=G1 S=P1", "R1 resistor 47k 1=P1 2=G1", "R2 resistor 0R001 1=M 2=GND"})
            lines.emplace_back(line);
    else
        for (const char* line : {"L2 inductor 1u 1=P1 2=VIN", "Q1 mosfet 60V_10A D=GND G=G1 S=M", "R1 resistor 100k 1=VIN 2=G1"})
            lines.emplace_back(line);
    for (const char* line : {"C1 electrolytic 470u +=VIN -=GND", "L1 inductor 47u 1=VIN 2=SW", "Q2 mosfet 100V_12A D=SW G=G2 S=RS",
                             "R3 resistor 0R05 1=RS 2=GND", "D1 schottky 100V_5A A=SW K=OUT", "C2 electrolytic 220u +=OUT -=GND",
                             "U1 controller BOOST VCC=VIN GND=GND DRV=G2 CS=RS", "K1 relay 12V 1=VIN 2=COIL C=X NO=Y NC=Z",
                             "Q3 mosfet 30V_1A D=COIL G=G3 S=GND", "D2 diode 100V_1A A=COIL K=VIN"})
        lines.emplace_back(line);
    Board draft = board(lines);
    draft.parts[0].stage = draft.parts[1].stage = "mains-in";
    draft.rails = {{.net = "OUT", .ret = "GND", .volts = 36, .amps = 0.7}};
    return make_board(draft)->board;
}

// A main relay that a standby supply holds; a second one bridges the inrush resistor, so that all goes on without it.
Board behind_relays() {
    Board draft = board({"J1 connector - 1=L.in 1'=L 2=N.in 2'=N", "F1 fuse T4A 1=L 2=L1", "K1 relay 12V 1=STB 2=SG C=L1 NO=L2 NC=X",
                         "R1 resistor 22R 1=L2 2=L3", "K2 relay 12V 1=STB 2=SG C=L2 NO=L3 NC=Y", "BR1 bridge - ~1=L3 ~2=N +=HV -=PG",
                         "C1 electrolytic 220u +=HV -=PG", "Q1 mosfet 600V_10A D=DR G=GT S=SRC", "R2 resistor 0R1 1=SRC 2=PG",
                         "T1 transformer - P1=HV P2=DR S1=A S2=0V", "D1 diode 200V_5A A=A K=OUT", "C2 electrolytic 470u +=OUT -=0V"});
    const std::map<std::string, std::string> stages = {{"J1", "mains-in"}, {"F1", "mains-in"}, {"C1", "bulk"},
                                                       {"Q1", "switch"},   {"BR1", "rectify"}, {"D1", "rectify-out"}};
    for (auto& part : draft.parts)
        if (const auto at = stages.find(part.ref); at != stages.end()) part.stage = at->second;
    draft.mains = Mains{230, 50};
    draft.rails = {{.net = "OUT", .ret = "0V", .volts = 24, .amps = 1}};
    return make_board(draft)->board;
}

} // namespace

TEST(SeriesSwitches, StandBetweenTheInletAndWhatItFeeds) {
    for (const bool high : {true, false}) {
        const Board b = boost(high);
        EXPECT_EQ(find_roles(b).series_switches, std::vector<int>{at(b, "Q1")}) << "neither the converter's switch nor a coil's";
        EXPECT_EQ(find_roles(b).switches, std::vector<int>{at(b, "Q2")}) << "of a converter that steps up";
    }
    for (const char* job : {"rb6-fresh", "cr8-buck", "tl12-half-bridge", "fc1-inverter", "rb6-rail", "fd1-linear"})
        EXPECT_TRUE(find_roles(discharged(job).board).series_switches.empty()) << job;
}

// The supply's own fuse blows for a switch that is through, though from the inlet nothing of it is to be read cold.
TEST(SeriesSwitches, LetAShortBehindThemBeFelt) {
    for (const bool high : {true, false}) {
        const Board b = boost(high);
        BehaviourModel model(b, find_roles(b));
        EXPECT_EQ(model.judge(std::vector<Fault>{}).running, Running::Normal);
        EXPECT_EQ(model.judge(faults(b, {"Q2:ds-short"})).running, Running::BlowsFuse);
        EXPECT_EQ(model.judge(faults(b, {"C1:short"})).running, Running::BlowsFuse);
        EXPECT_EQ(model.judge(faults(b, {"Q1:open"})).running, Running::NoInput);
        EXPECT_EQ(model.judge(faults(b, {"Q1:ds-short"})).running, Running::Normal);
    }
}

TEST(SeriesSwitches, AreRelaysTooWhereNothingElsePasses) {
    const Board b = behind_relays();
    EXPECT_EQ(find_roles(b).series_switches, std::vector<int>{at(b, "K1")});
    BehaviourModel model(b, find_roles(b));
    EXPECT_EQ(model.judge(std::vector<Fault>{}).running, Running::Normal);
    EXPECT_EQ(model.judge(faults(b, {"Q1:ds-short"})).running, Running::BlowsFuse);
    EXPECT_EQ(model.judge(faults(b, {"K1:open"})).running, Running::NoInput);
}
