// SPDX-License-Identifier: GPL-3.0-or-later
// Faults that another explanation stands in the way of: a pin that might leak instead, a winding that only alternating current sees, a link
// whose setting nobody said, a regulator whose output is to ground.
#include "board/roles.h"
#include "board/taken.h"
#include "damage/enumerate.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

// Ten ohms on the supply pin: the pin is shorted, not one of a hundred thousand that leaks so; also where a shorted switch was found first.
TEST(HiddenByOthers, SupplyPinBehindAShortedSwitch) {
    const auto a = analyse(with_all(discharged("cr8-buck"),
                                    {read("ohms", "0V", "VDD", 9.6), read("ohms", "0V", "SNB", 21), read("ohms", "VIN", "SWN", 1.6),
                                     read("ohms", "0V", "VIN", 17.8), read("ohms", "BST", "0V", 37667), read("diode", "G1", "0V", 0.023),
                                     over(alone("ohms", "C6", 0)), read("ohms", "SWN", "SNB", 2.267)}));
    EXPECT_GT(bad(*a, "Q1"), 0.9);
    EXPECT_GT(bad(*a, "U1"), 0.9);
    EXPECT_LT(bad(*a, "C6"), 0.05);
}

// Two volts and a bit backwards over a diode are its resistor, of which nobody knows the value, at the meter's milliampere; also where it
// was taken for one that would have shown "over".
TEST(HiddenByOthers, AResistorThatADiodeTestReadsAboveTwoVolts) {
    Job job = discharged("bd2-self-oscillating");
    job.board.parts[static_cast<std::size_t>(at(job.board, "R8"))].value.clear();
    const auto a =
        analyse(with_all(job, {read("esr", "BX2", "BD2", 1.983), read("diode", "PGND", "B2", 2.176), read("diode", "BD2", "BX2", 2.18)}));
    EXPECT_LT(bad(*a, "D4"), 0.05);
    EXPECT_LT(bad(*a, "C6"), 0.2);
}

// With the capacitors of the rail out and good the short is the regulator's own.
TEST(HiddenByOthers, RegulatorWithItsOutputToGround) {
    const auto a =
        analyse(with_all(discharged("gl1-adapter"), {read("ohms", "+12V", "0V", 0.4), over(alone("ohms", "C4", 0)),
                                                     over(alone("ohms", "C3", 0)), act(Do::Pull, "J2"), read("ohms", "+12V", "0V", 0.4)}));
    const auto& u1 = a->assessment.of(at(a->replay.board, "U1"));
    EXPECT_EQ(a->assessment.parts.front().part, u1.part);
    EXPECT_EQ(u1.leading.mode, FaultMode::OutputShort);
    EXPECT_GT(u1.bad, 0.5);
    const auto& c3 = a->assessment.of(at(a->replay.board, "C3")).modes;
    EXPECT_LT(c3.contains(FaultMode::Short) ? c3.at(FaultMode::Short) : 0, 0.02);
}

// Both ends of a filter inductor hold what stands there alone: it is open, although hardly any direct reading says so.
TEST(HiddenByOthers, OpenInductorBetweenTwoCapacitors) {
    const auto a = analyse(with_all(discharged("rb6-fresh"), {read("farads", "+5V", "0V", 0.998e-3), read("farads", "+5A", "0V", 1.92e-3),
                                                              alone("farads", "C20", 1.93e-3)}));
    EXPECT_GT(bad(*a, "L5"), 0.9);
    EXPECT_LT(bad(*a, "C21"), 0.1);
}

// A shorted rectifier puts the winding behind the inductor across the rail's capacitors, which then read several times what they are: a
// secondary of so many microhenries, not the millihenry of a primary.
TEST(HiddenByOthers, AWindingAcrossTheRail) {
    Job job;
    job.board = board({"T1 transformer - P1=BUS P2=DRN S1=SEC S2=0V", "V1 mosfet 900V D=DRN G=GT S=PG", "C9 electrolytic 220u +=BUS -=PG",
                       "D1 diode 200V A=SEC K=SW", "D2 diode 200V A=0V K=SW", "L1 inductor 60u 1=SW 2=OUT",
                       "C1 electrolytic 1000u +=OUT -=0V", "C2 electrolytic 1000u +=OUT -=0V", "R1 resistor 2k2 1=OUT 2=0V"});
    const auto a = analyse(with_all(job, {read("ohms", "SW", "0V", 0.2), read("farads", "OUT", "0V", 8.6e-3), alone("diode", "D1", 0.0),
                                          over(alone("ohms", "C1", 0)), read("farads", "OUT", "0V", 8.6e-3)}));
    EXPECT_GT(bad(*a, "D1"), 0.95);
    EXPECT_LT(bad(*a, "C2"), 0.3);
}

// Forty-one ohms across the bus of a board whose switch is through: only winding, channel, gate, resistor and output pin let so much pass,
// so the gate resistor is whole. No reading spoke of it until the switch was broken and the source resistor open.
TEST(HiddenByOthers, AResistorThatOnlyTheLikeliestStoryUncovers) {
    const auto a = analyse(demo("rb6-half-way"));
    EXPECT_GT(bad(*a, "Q1"), 0.95);
    EXPECT_GT(bad(*a, "R9"), 0.9);
    EXPECT_LT(bad(*a, "R8"), 0.05);
}

// A link whose setting nobody said is read open, and read closed: neither is a fault.
TEST(HiddenByOthers, LinkWithoutASetting) {
    Job job = discharged("tl12-half-bridge");
    job.board.parts[static_cast<std::size_t>(at(job.board, "SW2"))].value.clear();
    const auto open = analyse(job.with(read("ohms", "AC2", "BM", 190e3)));
    EXPECT_EQ(bad(*open, "SW2"), 0);
    EXPECT_LT(open->assessment.unexplained, 0.1);
    const auto closed = analyse(job.with(read("ohms", "AC2", "BM", 0.1)));
    EXPECT_EQ(bad(*closed, "SW2"), 0);
    EXPECT_LT(closed->assessment.unexplained, 0.1);
}

// Its output pin reads sixty ohm alone, and did so in circuit: no pin of a sound chip does, whatever it had been taken for before.
TEST(HiddenByOthers, OutputPinReadAloneAsInCircuit) {
    const auto a = analyse(
        with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "bang"), read("ohms", "DRAIN", "SRC", 0.5),
                                           read("ohms", "PGND", "GATE", 80.8), read("ohms", "DRV", "PGND", 59.3), act(Do::Lift, "U1"), [] {
                                               Entry e = alone("ohms", "U1", 59.7);
                                               e.pins = {"DRV", "GND"};
                                               return e;
                                           }()}));
    EXPECT_GT(bad(*a, "U1"), 0.97);
    EXPECT_LT(bad(*a, "R8"), 0.05);
}

// Between bulk capacitor and ground lie the primary winding and a switch of four ohm: at its first guess of half an ohm the winding would
// have the better of the capacitor and the meter would show none, which must not hide how well it fits at four.
TEST(HiddenByOthers, ShortedSwitchBehindAWindingBesideTheBulkCapacitor) {
    const auto a = analyse(with_all(discharged("rb6-fresh"),
                                    {act(Do::Symptom, "", "dead"), read("ohms", "HV", "AC1", 5859), read("ohms", "PGND", "GATE", 6710),
                                     read("ohms", "HV", "N2", 5859), read("ohms", "PGND", "HV", 5.5), over(read("ohms", "LS", "L1", 0)),
                                     read("farads", "HV", "PGND", 862e-6), over(alone("ohms", "C5", 0))}));
    EXPECT_GT(bad(*a, "Q1"), 0.6);
    EXPECT_LT(bad(*a, "C6"), 0.35);
    EXPECT_LT(bad(*a, "C5"), 0.2);
}

// Any pin that drives something may be the one that is shorted to ground.
TEST(HiddenByOthers, EitherOutputOfAController) {
    for (const char* pin : {"G1", "G2"}) {
        const auto a = analyse(with_all(discharged("cr8-buck"), {act(Do::Lift, "Q1"), act(Do::Lift, "Q2"), read("ohms", pin, "0V", 4.2),
                                                                 read("ohms", "0V", pin, 4.2)}));
        const auto& u1 = a->assessment.of(at(a->replay.board, "U1"));
        EXPECT_GT(u1.bad, 0.7) << pin;
        EXPECT_EQ(u1.leading.mode, FaultMode::OutputShort) << pin;
        EXPECT_EQ(a->replay.board.part(u1.part).net(u1.leading.place), *a->replay.board.find_net(pin)) << pin;
    }
}

// A converter chip with its lower switch through holds its output down behind the inductor; a switch between D and S has no such pin.
TEST(HiddenByOthers, LowerSwitchOfAConverterChip) {
    Job job = discharged("cr8-buck");
    job.board =
        board({"U1 integrated-switch - VIN=IN GND=0V SW=SW FB=FB", "L1 inductor 22u 1=SW 2=+5V", "D1 schottky 40V_3A A=0V K=SW",
               "C1 electrolytic 220u +=+5V -=0V", "R1 resistor 5k1 1=+5V 2=FB", "R2 resistor 1k 1=FB 2=0V", "C2 ceramic 10u 1=IN 2=0V"});
    const Entry low = read("ohms", "SW", "0V", 2.5), sound = alone("diode", "D1", 0.28);
    const auto a = analyse(with_all(job, {low, act(Do::Lift, "D1"), sound, low}));
    EXPECT_GT(bad(*a, "U1"), 0.6);
    EXPECT_LT(bad(*a, "D1"), 0.05);
    const Board two = board({"U1 integrated-switch - D=DR S=0V VCC=VC", "R1 resistor 1k 1=DR 2=VC"});
    const auto found = root_chains(two, find_roles(two), library(), {}, EnumerateOptions{}.least_leaf, false, {});
    ASSERT_TRUE(found);
    for (const auto& root : found->roots) EXPECT_NE(root.fault.mode, FaultMode::OutputShort);
}

// A bulk capacitor that shorts takes legs of the bridge along; both lie side by side for a meter.
TEST(HiddenByOthers, BulkCapacitorBehindAShortedBridge) {
    const auto alone_bad = analyse(discharged("rb6-fresh").with(alone("ohms", "C5", 0.5)));
    EXPECT_GT(bad(*alone_bad, "BR1"), 0.15);
}

// An inrush limiter has opened, and one leg of the bridge on either side is through. With a resistor across the mains whose value nobody
// could read, a sound bridge reads nearly the same over the two other legs; and what both shorts do to a reading is no sum of what each
// does.
TEST(HiddenByOthers, OneLegOnEitherSideOfABridge) {
    Job job = discharged("rb6-fresh");
    Part& across = job.board.parts[static_cast<std::size_t>(at(job.board, "R1"))];
    across.value.clear();
    across.ohms.reset();
    take_values(job.board);
    job = with_all(job.with(said("dead")),
                   {read("ohms", "AUXR", "VCC", 9.7), read("ohms", "L.in", "AC1", 670e3), read("ohms", "AC1", "L2", 672e3),
                    read("ohms", "N2", "HV", 5061), read("ohms", "HV", "N2", 204.7e3), read("ohms", "AC1", "PGND", 205e3)});
    const auto a = analyse(job);
    EXPECT_GT(bad(*a, "RT1"), 0.95);
    EXPECT_GT(bad(*a, "BR1"), 0.002);
    EXPECT_GT(bad(*analyse(job.with(read("ohms", "AC1", "HV", 0.2)).with(read("ohms", "PGND", "N2", 0.2))), "BR1"), 0.95);
}

// Twenty-four ohm from a driver's pin to ground are 22 of the gate resistor and two of a gate that broke with its channel, as well as a pin
// that is shorted: undecided while the switch is in, and clear once it is out.
TEST(HiddenByOthers, AGateThatBrokeBehindItsResistor) {
    const Job job = with_all(discharged("rb6-fresh").with(said("bang")).with(act(Do::Look, "Q1", "burnt")),
                             {read("ohms", "SRC", "PGND", 0.3), read("ohms", "DRV", "GATE", 22.0), read("diode", "PGND", "DRV", 0.024)});
    const auto in = analyse(job);
    EXPECT_GT(bad(*in, "Q1"), 0.95);
    EXPECT_LT(bad(*in, "U1"), 0.9);
    EXPECT_GT(bad(*in, "U1"), 0.2);
    const auto out = analyse(with_all(job, {act(Do::Lift, "Q1"), read("diode", "PGND", "DRV", 0.62)}));
    auto modes = out->assessment.of(at(out->replay.board, "U1")).modes;
    EXPECT_LT(modes[FaultMode::OutputShort], 0.05);
    EXPECT_GT(bad(*analyse(with_all(job, {act(Do::Lift, "Q1"), read("diode", "PGND", "DRV", 0.024)})), "U1"), 0.95);
}
