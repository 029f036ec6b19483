// SPDX-License-Identifier: GPL-3.0-or-later
// Figures of parts and meters that are not those of the shipped families: what is only unlike our own is not bad.
#include "support/demo.h"

#include <gtest/gtest.h>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Job on(Board board) {
    Job job = discharged("gl1-adapter");
    job.board = std::move(board);
    return job;
}

} // namespace

// 602 ohm on a display of 6,000 counts: still its lowest range, at whose current the regulator's junctions conduct. The load beside them
// hardly shows then, and the connector that leads to it is no less whole.
TEST(WiderFigures, ALittlePastFullScale) {
    const auto a = analyse(with_all(
        discharged("gl1-adapter"),
        {read("ohms", "SA", "RES", 0), read("ohms", "RES", "0V", 0.2), read("ohms", "0V", "SB", 1.1), read("ohms", "+12V", "0V", 594.3),
         read("ohms", "0V", "+12V", 593.9), read("ohms", "RES", "+12V", 594.4), act(Do::Pull, "J2"), read("ohms", "0V", "+12V", 602.2),
         read("diode", "+12V", "0V", 0.487), read("ohms", "RES", "+12V", 602.5), read("ohms", "+12V.out", "0V.out", 3241),
         read("ohms", "+12V", "0V", 602.3), read("ohms", "+12V", "RES", 602.1)}));
    EXPECT_LT(bad(*a, "J2"), 0.2);
    EXPECT_GT(bad(*a, "C1"), 0.9);
    EXPECT_LT(a->assessment.unexplained, 0.05);
}

// Regulators read 0.45 to 0.7 V from the output back to the input (common practice, no source).
TEST(WiderFigures, JunctionsOfOneKindDiffer) {
    for (double volts : {0.45, 0.55, 0.68}) {
        const auto a = analyse(discharged("gl1-adapter").with(read("diode", "+12V", "RES", volts)));
        EXPECT_LT(bad(*a, "U1"), 0.2) << volts;
        EXPECT_LT(a->assessment.unexplained, 0.1) << volts;
    }
}

// Some have a diode in their case, some have none.
TEST(WiderFigures, BipolarWithInsulatedGateWithOrWithoutADiode) {
    const auto b = board({"Q1 igbt - C=CO G=GI E=0V", "R1 resistor 10k 1=GI 2=0V", "R2 resistor 330k 1=CO 2=0V"});
    const auto without = analyse(on(b).with(read("ohms", "0V", "CO", 330e3)).with(over(read("diode", "0V", "CO", 0))));
    EXPECT_LT(bad(*without, "Q1"), 0.3);
    const auto with = analyse(on(b).with(read("diode", "0V", "CO", 0.47)));
    EXPECT_LT(bad(*with, "Q1"), 0.3);
    const auto shorted = analyse(on(b).with(read("ohms", "0V", "CO", 0.4)));
    EXPECT_GT(bad(*shorted, "Q1"), 0.9);
}

// Behind 47 ohm the half ohm of reactance of 2,200 uF is lost in the meter's phase.
TEST(WiderFigures, CapacitanceBehindResistanceSaysLittle) {
    const auto b =
        board({"R1 resistor 47 1=A 2=B", "C1 electrolytic 2200u +=B -=0V", "C2 electrolytic 2200u +=D -=0V", "R2 resistor 10k 1=B 2=D"});
    const auto behind = analyse(on(b).with(read("farads", "A", "0V", 0.8e-3)));
    const auto across = analyse(on(b).with(read("farads", "B", "0V", 0.8e-3)));
    EXPECT_LT(bad(*behind, "C1"), bad(*across, "C1") - 0.3);
    EXPECT_GT(bad(*across, "C1"), 0.9);
}

// An input that stands more volts than its supply has no clamp to it; another one has. Neither is a fault of anything around it: 10
// kilohm to a rail of 50 ohm, 90 uA of test current, so 0.83 V at the pin with nothing to hold it down.
TEST(WiderFigures, InputsWithAndWithoutAClampToTheirSupply) {
    const auto b = board({"U1 controller - VCC=RAIL GND=0V IN1=PIN", "R1 resistor 10k 1=PIN 2=RAIL", "LD1 load 50 1=RAIL 2=0V",
                          "C1 tantalum 10u +=RAIL -=0V"});
    const std::vector<Entry> around = {read("ohms", "RAIL", "0V", 50.2), read("ohms", "0V", "PIN", 5990)};
    for (double shown : {9250.0, 6100.0}) {
        auto readings = around;
        readings.push_back(read("ohms", "PIN", "0V", shown));
        const auto a = analyse(with_all(on(b), readings));
        EXPECT_LT(bad(*a, "R1"), 0.2) << shown;
        EXPECT_LT(bad(*a, "U1"), 0.5) << shown;
        EXPECT_LT(a->assessment.unexplained, 0.05) << shown;
    }
}

// The pin that is lifted above the supply has no clamp to it at all: nothing flows at two volts. No part is bad for that.
TEST(WiderFigures, AnInputThatBlocksAtTwoVolts) {
    const auto b =
        board({"U1 controller - VCC=VDD GND=0V BST=BST FB=FB", "D1 schottky 30V A=VDD K=BST", "C1 ceramic 220n 1=BST 2=SW",
               "R1 resistor 10k 1=FB 2=0V", "R2 resistor 1k2 1=VDD 2=0V", "R3 resistor 47 1=SW 2=0V", "C2 ceramic 1u 1=VDD 2=0V"});
    const auto blocks = over(read("diode", "BST", "VDD", 0));
    const auto a = analyse(with_all(on(b), {read("ohms", "VDD", "0V", 1138), blocks, blocks, read("diode", "VDD", "BST", 0.154),
                                            read("ohms", "BST", "VDD", 230e3), read("ohms", "BST", "0V", 216e3)}));
    EXPECT_TRUE(a->assessment.contradicted_by.empty());
    for (const auto& part : a->replay.board.parts) EXPECT_LT(bad(*a, part.ref), 0.3) << part.ref;
}

// Its pass element gone, or the wire to its output: no junction from the output to the input is left (common practice, no source).
TEST(WiderFigures, ARegulatorThatReadsOpenFromItsOutput) {
    const auto b = board({"U1 regulator 5V IN=UNREG GND=0V OUT=RAIL", "C1 electrolytic 470u +=UNREG -=0V", "C2 ceramic 100n 1=RAIL 2=0V",
                          "R1 resistor 4k7 1=RAIL 2=0V"});
    const auto diode = [](Entry e) {
        e.what = "diode";
        e.pins = {"OUT", "IN"};
        return e;
    };
    const auto open = analyse(on(b).with(over(diode(alone("diode", "U1", 0)))));
    EXPECT_GT(bad(*open, "U1"), 0.9);
    const auto sound = analyse(on(b).with(diode(alone("diode", "U1", 0.55))));
    EXPECT_LT(bad(*sound, "U1"), bad(*open, "U1") / 2);
}

// Three diodes of the same kind say what current one range drives: 0.585 V at 1 mA is 0.56 V at 0.62 mA, 900 ohm.
// Said for that range, in amperes, once, though each stands in an island of its own.
TEST(WiderFigures, WhatWasLearnedOfTheMeterIsSaidByRange) {
    const auto b = board({"D1 diode 1A A=A K=B", "D2 diode 1A A=C K=D", "D3 diode 1A A=E K=F"});
    std::vector<Entry> readings;
    for (const auto& [from, to] : {std::pair("A", "B"), std::pair("C", "D"), std::pair("E", "F")}) {
        readings.push_back(read("diode", from, to, 0.585));
        readings.push_back(read("ohms", from, to, 900));
    }
    const auto a = analyse(with_all(on(b), readings));
    std::set<double> ranges;
    for (const auto& l : a->assessment.learned)
        if (l.what == "test current") {
            EXPECT_GT(l.range, 100);
            EXPECT_GT(l.now, 1e-8);
            EXPECT_LT(l.now, 2e-3);
            EXPECT_TRUE(ranges.insert(l.range).second) << "said twice";
        }
    EXPECT_FALSE(ranges.empty());
}

// 12 V and 5 W are 29 ohm hot, a fourteenth of that cold (tungsten from 2,700 kelvin to 298 by the power 1.2); 82 ohm are told, so that
// 2.6 ohm beside them are of something else.
TEST(WiderFigures, ALampIsColdWhenItIsRead) {
    const auto rated = analyse(on(board({"H1 lamp 12V_5W 1=A 2=0V", "C1 ceramic 1u 1=A 2=0V"})).with(read("ohms", "A", "0V", 2.4)));
    EXPECT_TRUE(rated->assessment.bent.empty());
    EXPECT_LT(bad(*rated, "C1"), 0.3); // of three parts one is bad
    const auto told = analyse(on(board({"H1 lamp 82R 1=A 2=0V", "C1 ceramic 1u 1=A 2=0V"})).with(read("ohms", "A", "0V", 2.6)));
    EXPECT_GT(bad(*told, "C1"), 0.8);
}

// Blue and white ones want 2.6 to 3 V, many a diode test ends at two: over says little of one that lights up, and all of one that does not.
TEST(WiderFigures, ALightEmittingDiodeAboveTheDisplay) {
    const Job job = discharged("tl12-half-bridge"); // D8 lights up, D3 does not
    const double before = bad(*analyse(job), "D8");
    EXPECT_LT(bad(*analyse(job.with(over(alone("diode", "D8", 0)))), "D8"), 8 * before);
    EXPECT_GT(bad(*analyse(job.with(over(alone("diode", "D3", 0)))), "D3"), 0.9);
    EXPECT_LT(bad(*analyse(job.with(alone("diode", "D8", 1.85))), "D8"), before / 2);
}
