// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<std::string> twins_of(const Board& b, const std::string& ref) {
    std::vector<std::string> out;
    const auto all = find_twins(b);
    for (int i : all[static_cast<std::size_t>(at(b, ref))]) out.push_back(b.part(i).ref);
    return out;
}

using Refs = std::vector<std::string>;

} // namespace

TEST(Twins, BothLegsOfACentreTapAndHalvesOfABridge) {
    const Board tap = board({"T1 transformer - P1=A P2=B S1=X S2=0V S3=0V S4=Y", "D1 schottky - A=X K=OUT", "D2 schottky - A=Y K=OUT",
                             "C1 electrolytic 100u +=OUT -=0V"});
    EXPECT_EQ(twins_of(tap, "D1"), Refs{"D2"});
    EXPECT_EQ(twins_of(tap, "D2"), Refs{"D1"});
    EXPECT_TRUE(twins_of(tap, "C1").empty());
    const Board bridge = board({"T1 transformer - P1=A P2=B S1=X S2=Y", "D1 diode - A=X K=OUT", "D2 diode - A=Y K=OUT",
                                "D3 diode - A=0V K=X", "D4 diode - A=0V K=Y"});
    EXPECT_EQ(twins_of(bridge, "D1"), Refs{"D2"});
    EXPECT_EQ(twins_of(bridge, "D3"), Refs{"D4"});
}

TEST(Twins, InParallelAndBehindAnInductor) {
    const Board b = board({"L1 inductor 10u 1=P 2=Q", "D1 diode - A=0V K=P", "D2 diode - A=0V K=Q", "D3 diode - A=0V K=P"});
    EXPECT_EQ(twins_of(b, "D1"), (Refs{"D2", "D3"}));
}

TEST(Twins, NotTheOtherWayRoundNorAcrossAWinding) {
    const Board b = board({"T1 transformer - P1=A P2=B S1=X S2=Y", "D1 diode - A=X K=OUT", "D2 diode - A=OUT K=Y", "D3 diode - A=X K=Y",
                           "D4 diode - A=X K=Y"});
    for (const char* ref : {"D1", "D2", "D3", "D4"}) EXPECT_TRUE(twins_of(b, ref).empty()) << ref;
}

TEST(Roles, TheWayInOfTheDemo) {
    const Board& b = demo_board();
    const auto r = find_roles(b);
    const auto refs = [&](const std::vector<int>& parts) {
        Refs out;
        for (int i : parts) out.push_back(b.part(i).ref);
        return out;
    };
    ASSERT_GE(r.inlet.size(), 2u);
    EXPECT_EQ(refs(r.input_fuses), Refs{"F1"});
    EXPECT_EQ(refs(r.bridges), Refs{"BR1"});
    EXPECT_EQ(refs(r.bulk), Refs{"C5"});
    EXPECT_EQ(refs(r.switches), Refs{"Q1"});
    EXPECT_TRUE(r.totem_poles.empty());
    EXPECT_TRUE(r.own_rectifiers);
    EXPECT_EQ(b.part(r.controller).ref, "U1");
    EXPECT_EQ(r.loop.loss(b, fault(b, "OK1:open")), LoopLoss::Climbs);
    EXPECT_EQ(r.loop.loss(b, fault(b, "Q1:ds-short")), LoopLoss::None);
    EXPECT_EQ(r.twins.size(), b.parts.size());
    EXPECT_EQ(r.lead_pairs.size(), b.parts.size());
}

TEST(Roles, TwoSwitchesOnEachOtherAreATotemPole) {
    const auto job = demo("tl12-half-bridge");
    const auto r = find_roles(job.board);
    ASSERT_EQ(r.totem_poles.size(), 2u); // both ways round
    EXPECT_EQ(r.totem_poles[0], std::pair(r.totem_poles[1].second, r.totem_poles[1].first));
    EXPECT_TRUE(find_roles(demo("fc1-inverter").board).totem_poles.empty()); // push-pull: sources together
}

TEST(Roles, ABoardWithoutAnythingHasNoRoles) {
    const auto r = find_roles(Board{});
    EXPECT_TRUE(r.inlet.empty());
    EXPECT_EQ(r.controller, -1);
    EXPECT_EQ(r.hv, -1);
    EXPECT_TRUE(r.path.input_fed({}));
}

TEST(Roles, AFuseWithoutAReadableRatingIsNoLimit) {
    const Board b = board({"J1 connector - 1=L 1'=L1 2=N 2'=N1", "F1 fuse - 1=L1 2=L2", "R1 resistor 1k 1=L2 2=N1"});
    Board staged = b;
    for (auto& p : staged.parts) p.stage = "mains-in";
    EXPECT_EQ(find_roles(staged).inlet.size(), 2u);
    EXPECT_TRUE(find_roles(staged).input_fuses.empty());
    staged.parts[1].value = "T2A";
    EXPECT_EQ(find_roles(staged).input_fuses, std::vector<int>{1});
}

TEST(Roles, ReplayFindsThemForTheBoardAsItWasRecognised) {
    Job job = demo("rb6-fresh");
    const auto before = replay(job);
    EXPECT_EQ(before.roles->sense.size(), 1u);
    Entry e;
    e.act = Do::Recognise;
    e.part = job.board.part(before.roles->sense.front()).ref;
    e.value_text = "47";
    EXPECT_TRUE(replay(job.with(e)).roles->sense.empty()); // 47 ohm senses no amperes
}

namespace {

Refs refs_of(const Board& b, const std::vector<int>& parts) {
    Refs out;
    for (int i : parts) out.push_back(b.part(i).ref);
    return out;
}

// With a rail to the last net that the lines name.
Board with_rail(const std::vector<std::string>& lines, const char* net, double volts) {
    Board b = board(lines);
    Rail rail;
    rail.net = net;
    rail.net_id = *b.find_net(net);
    rail.ret = "0V";
    rail.return_id = *b.find_net("0V");
    rail.volts = volts;
    b.rails = {rail};
    return b;
}

} // namespace

// One above the other at a reservoir, whatever hangs between them; not a follower pair on a driver's supply without one, nor a lone switch.
TEST(Roles, LegsOfAMotorBridge) {
    const Board b =
        board({"C1 electrolytic 470u +=P -=0V", "Q1 igbt - C=P G=G1 E=U", "Q2 igbt - C=U G=G2 E=S", "Q3 mosfet - D=P G=G3 S=V",
               "Q4 mosfet - D=V G=G4 S=S", "R1 resistor 0R02 1=S 2=0V", "Q5 bjt-npn - C=D B=B5 E=G1", "Q6 mosfet - D=X G=G6 S=0V"});
    const auto r = find_roles(b);
    EXPECT_EQ(refs_of(b, r.legs), (Refs{"Q1", "Q2", "Q3", "Q4"}));
    EXPECT_TRUE(r.switches.empty());
    EXPECT_TRUE(r.is_leg(at(b, "Q2")));
    EXPECT_FALSE(r.is_leg(at(b, "Q6")));
}

// Behind an emitter resistor, a current shunt and a fuse; the transistor that limits the current sits on the rail and passes nothing.
TEST(Roles, PassTransistorsBehindWhatHoldsNoCurrentBack) {
    const Board b =
        with_rail({"C1 electrolytic 4700u +=VU -=0V", "Q1 bjt-npn - C=VU B=BQ E=E1", "Q2 bjt-npn - C=VU B=BQ E=E2",
                   "R1 resistor 0R22 1=E1 2=EO", "R2 resistor 0R22 1=E2 2=EO", "R3 resistor 0R33 1=EO 2=EF", "F1 fuse T2A 1=EF 2=OUT",
                   "Q3 bjt-npn - C=VU B=BD E=BQ", "Q4 bjt-npn - C=BD B=BL E=OUT", "R4 resistor 3k3 1=VU 2=BD"},
                  "OUT", 30);
    EXPECT_EQ(refs_of(b, find_roles(b).pass), (Refs{"Q1", "Q2"}));
    const Board low =
        with_rail({"C1 electrolytic 100u +=VU -=0V", "Q1 bjt-pnp - E=VU B=B1 C=OUT", "Q2 bjt-npn - C=OUT B=B2 E=VU"}, "OUT", 5);
    EXPECT_EQ(refs_of(low, find_roles(low).pass), Refs{"Q1"}); // a collector on a positive rail passes to it in one of the other polarity
}

TEST(Roles, ADriveTransformerIsNotTheOneThatCarriesThePower) {
    const Job job = foreign("sack-sewing"); // two switches at the two ends of a winding; their drive transformer stands first
    const Board& b = job.board;
    const BoardRoles t = find_roles(b);
    EXPECT_EQ(t.transformer, at(b, "TR1"));
    EXPECT_EQ(std::set<int>(t.switches.begin(), t.switches.end()), (std::set<int>{at(b, "V1"), at(b, "V2")}));
}

TEST(Roles, WhatSwitchesAWindingOrAnInductorInWhateverConverter) {
    const Board b =
        board({"C1 electrolytic 100u +=REC -=PG", "L1 inductor 400u 1=REC 2=DP", "Q1 mosfet - D=DP G=G1 S=PG", // a boost stage
               "D1 diode - A=DP K=HV", "C2 electrolytic 100u +=HV -=PG", "T1 transformer - P1=HV P2=DR S1=SB S2=SRD",
               "Q2 mosfet - D=DR G=G2 S=PG", "Q3 mosfet - D=SRD G=G3 S=0V", "C3 electrolytic 470u +=SB -=0V", // a switched rectifier
               "L2 inductor 10u 1=SB 2=OUT", "C4 electrolytic 470u +=OUT -=0V",
               "Q4 mosfet - D=FAN G=G4 S=0V",                                               // switches a load
               "T2 transformer - P1=GD P2=PG S1=G2 S2=PG", "Q5 bjt-npn - C=GD B=BX E=PG"}); // drives a gate
    const BoardRoles t = find_roles(b);
    EXPECT_TRUE(t.is_power_device(at(b, "Q1")));
    EXPECT_TRUE(t.is_power_device(at(b, "Q2")));
    EXPECT_TRUE(t.is_power_device(at(b, "Q3")));
    EXPECT_FALSE(t.is_power_device(at(b, "Q4")));
    EXPECT_FALSE(t.is_power_device(at(b, "Q5")));
}

// An electrolytic that couples two inductors is no reservoir: the switch on it still switches one of them.
TEST(Roles, ACouplingCapacitorMakesNoSupply) {
    const Board b = board({"C1 electrolytic 470u +=VIN -=0V", "L1 inductor 47u 1=VIN 2=DR", "Q1 mosfet - D=DR G=G S=SN",
                           "R1 resistor 0R025 1=SN 2=0V", "C2 electrolytic 10u +=DR -=MP", "L2 inductor 47u 1=MP 2=0V",
                           "D1 schottky - A=MP K=OUT", "C3 electrolytic 470u +=OUT -=0V"});
    EXPECT_TRUE(find_roles(b).is_power_device(at(b, "Q1")));
}

// The driver of an upper switch is fed from an electrolytic that rides on what it switches: no reservoir there.
TEST(Roles, ABootstrapCapacitorMakesNoSupply) {
    const Board b = board({"C1 electrolytic 330u +=DC -=0V", "Q1 igbt - C=DC G=G1 E=MOT", "D1 diode 600V A=0V K=MOT",
                           "L1 inductor 2m 1=MOT 2=OUT", "R1 resistor 33 1=GO 2=G1", "U1 controller - VCC=BST GND=MOT OUT=GO IN=IN",
                           "C2 electrolytic 22u +=BST -=MOT", "D2 diode 600V A=V15 K=BST", "C3 electrolytic 100u +=V15 -=0V"});
    EXPECT_TRUE(find_roles(b).is_power_device(at(b, "Q1")));
}

// A half-bridge that drives itself: between the switch node and the winding that carries the power stands another transformer's winding,
// and each emitter goes to the node through a resistor.
TEST(Roles, SwitchesBehindWhatCarriesTheWindingsCurrent) {
    const Board b = board({"C1 electrolytic 47u +=UP -=UN", "C2 film 100n 1=UP 2=HM", "C3 film 100n 1=HM 2=UN",
                           "Q1 bjt-npn - C=UP B=BA E=EA", "Q2 bjt-npn - C=HB B=BB E=EB", "R1 resistor 1R 1=EA 2=HB",
                           "R2 resistor 1R 1=EB 2=UN", "R3 resistor 6R8 1=TA 2=BA", "R4 resistor 6R8 1=TB 2=BB",
                           "T1 transformer - P1=HB P2=HX S1=TA S2=HB S3=TB S4=UN", "T2 transformer - P1=HX P2=HM S1=SA S2=0V",
                           "D1 schottky - A=SA K=OUT", "C4 electrolytic 470u +=OUT -=0V", "Q3 bjt-npn - C=FAN B=BF E=0V"});
    const BoardRoles t = find_roles(b);
    EXPECT_EQ(std::set<int>(t.switches.begin(), t.switches.end()), (std::set<int>{at(b, "Q1"), at(b, "Q2")}));
    EXPECT_FALSE(t.is_power_device(at(b, "Q3")));
}
