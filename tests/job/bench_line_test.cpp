// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "job/bench_line.h"
#include "report/wording.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

const BenchContext& context(bool cold) {
    static const BenchContext hot = bench_context(replay(demo("rb6-fresh")), reader().vocabulary());
    static const BenchContext safe = bench_context(replay(demo("rb6-half-way")), reader().vocabulary());
    return cold ? safe : hot;
}

std::string read_back(const std::string& line, bool cold = true) {
    const auto e = parse_bench_line(context(cold), line);
    return e ? wording::understood(demo_board(), *e) : "? " + wording::problem(e.problem());
}

ProblemKind wrong(const std::string& line) {
    const auto e = parse_bench_line(context(true), line);
    EXPECT_FALSE(e) << line;
    return e ? ProblemKind::Cancelled : e.problem().kind;
}

} // namespace

TEST(BenchLine, FourWiresNameTheirMeter) {
    const auto e = parse_bench_line(context(true), "C5 milliohm 31m");
    ASSERT_TRUE(e);
    EXPECT_EQ(e->what, "ohms");
    EXPECT_EQ(e->meter, "milliohm");
    EXPECT_NEAR(*e->value, 0.031, 1e-12);
    EXPECT_EQ(read_back("HV PGND four-wire 0R2"), "resistance from HV to PGND = 200 mΩ, in circuit, with four wires");
    // Once it was used it is on the bench.
    const auto now = replay(demo("rb6-half-way").with(*e));
    EXPECT_EQ(now.evidence.meters.back().id, "milliohm");
    EXPECT_EQ(now.evidence.observations.back().query.meter, static_cast<int>(now.evidence.meters.size()) - 1);
}

TEST(BenchLine, WhatTheBriefPromises) {
    EXPECT_EQ(read_back("C5 ohm 2.9"), "resistance across C5 = 2.90 Ω, in circuit");
    EXPECT_EQ(read_back("HV 322", false), "voltage, DC from HV to PGND = 322 V, unplugged");
    EXPECT_EQ(read_back("F1 open"), "resistance across F1 = over range, in circuit");
    EXPECT_EQ(read_back("C5 bulged"), "C5 bulged");
    EXPECT_EQ(read_back("lift Q1"), "lift Q1");
    EXPECT_EQ(read_back("+24 V 1k9"), "resistance from +24V to 0V = 1.90 kΩ, in circuit");
    EXPECT_EQ(read_back("Q1 D-S short"), "continuity of Q1 from D to S = beeps, in circuit");
}

TEST(BenchLine, ProvesNewWork) {
    EXPECT_EQ(read_back("prove C5"), "work on C5 right");
    EXPECT_EQ(read_back("prove C5 look wrong"), "work on C5 looks wrong");
    EXPECT_EQ(read_back("prove C5 + beeps"), "work on C5: + beeps");
    EXPECT_EQ(read_back("prove Q1 g silent"), "work on Q1: G is silent");
    EXPECT_EQ(wrong("prove"), ProblemKind::Usage);
    EXPECT_EQ(wrong("prove C5 + perhaps"), ProblemKind::Usage);
    EXPECT_EQ(wrong("prove C5 X beeps"), ProblemKind::UnknownPin);
    EXPECT_EQ(wrong("prove C99"), ProblemKind::NoSuchPart);
}

TEST(BenchLine, TakesApartAndPutsTogether) {
    EXPECT_EQ(read_back("apart 4 screws M3"), "came off: 4 screws M3");
    EXPECT_EQ(read_back("together"), "everything is back in place");
    EXPECT_EQ(wrong("apart"), ProblemKind::Usage);
    EXPECT_EQ(wrong("together lid"), ProblemKind::Usage);
}

TEST(BenchLine, AsksOutsideAndCountsTries) {
    EXPECT_EQ(read_back("check plug-fuse blown"), "fuse in the plug: blown");
    EXPECT_EQ(read_back("check plug fuse blown"), "fuse in the plug: blown");
    EXPECT_EQ(read_back("check lead earth open"), "lead, earth core: open");
    EXPECT_EQ(wrong("check"), ProblemKind::Usage);
    EXPECT_EQ(wrong("check plug-fuse perhaps"), ProblemKind::UnknownWord);
    EXPECT_EQ(wrong("check moon full"), ProblemKind::UnknownWord);
    EXPECT_EQ(wrong("check adapter right"), ProblemKind::OutOfRangeValue);
    EXPECT_EQ(read_back("try runs"), "try runs");
    EXPECT_EQ(read_back("try fails cold"), "try fails, cold");
    EXPECT_EQ(read_back("try dies after 8 min warm"), "try dies after 8 min, warm");
    EXPECT_EQ(read_back("try dies 40 s"), "try dies after 40 s");
    EXPECT_EQ(wrong("try"), ProblemKind::Usage);
    EXPECT_EQ(wrong("try dies soon"), ProblemKind::UnreadableValue);
}

// Some words have a dash, as pins have: they are looks all the same.
TEST(BenchLine, EveryLookIsUnderstood) {
    for (const auto& look : reader().vocabulary().looks) {
        if (look == "open") continue; // a reading out of range
        for (const char* ref : {"F1", "Q1", "C5"}) {
            const auto e = parse_bench_line(context(true), std::string(ref) + " " + look);
            ASSERT_TRUE(e) << ref << " " << look;
            EXPECT_EQ(e->act, Do::Look) << look;
            EXPECT_EQ(e->saw, look);
        }
    }
    const auto wrong_pin = parse_bench_line(context(true), "Q1 D-X 2.9");
    ASSERT_FALSE(wrong_pin);
    EXPECT_EQ(wrong_pin.problem().expected, "D, G, S");
}

TEST(BenchLine, UnitsAndWordsDecide) {
    EXPECT_EQ(read_back("HV 322"), "resistance from HV to PGND = 322 Ω, in circuit"); // cold: a bare number is ohms
    EXPECT_EQ(read_back("HV 322V"), "voltage, DC from HV to PGND = 322 V, unplugged");
    EXPECT_EQ(read_back("HV 2.9 ohm", false), "resistance from HV to PGND = 2.90 Ω, in circuit");
    EXPECT_EQ(read_back("C5 esr 1.4"), "ESR across C5 = 1.40 Ω, in circuit");
    EXPECT_EQ(read_back("C5 1.4 esr lifted"), "ESR across C5 = 1.40 Ω, lifted");
    EXPECT_EQ(read_back("C5 82u"), "capacitance across C5 = 82.0 µF, in circuit");
    EXPECT_EQ(read_back("D6 0.52V"), "diode test across D6 = 520 mV, in circuit");
    EXPECT_EQ(read_back("Q1 G S 9k9"), "resistance of Q1 from G to S = 9.90 kΩ, in circuit");
    EXPECT_EQ(read_back("HV 180k rising"), "resistance from HV to PGND = 180 kΩ, rising, in circuit");
    EXPECT_EQ(read_back("R9 0R41"), "resistance across R9 = 410 mΩ, in circuit");
}

TEST(BenchLine, PlacesInManyHands) {
    EXPECT_EQ(read_back("5v 163"), read_back("+5V 163"));
    EXPECT_EQ(read_back("HV PGND 41"), read_back("HV-PGND 41"));
    EXPECT_EQ(read_back("hv pgnd 41"), read_back("HV PGND 41"));
    EXPECT_EQ(read_back("c5 BULGED"), "C5 bulged");
    EXPECT_EQ(read_back("VCC 485k"), "resistance from VCC to PGND = 485 kΩ, in circuit");
    EXPECT_EQ(read_back("REF 5k"), "resistance from REF to 0V = 5.00 kΩ, in circuit"); // the other side has its own return
}

TEST(BenchLine, ActionsAndWords) {
    EXPECT_EQ(parse_bench_line(context(true), "discharge 0.4 V")->value.value_or(-1), 0.4);
    EXPECT_EQ(parse_bench_line(context(true), "bad Q1 ds-short")->mode, "ds-short");
    EXPECT_EQ(parse_bench_line(context(true), "look mains-in fine")->stage, "mains-in");
    EXPECT_EQ(parse_bench_line(context(true), "note ribbon goes red side left")->text, "ribbon goes red side left");
    EXPECT_EQ(parse_bench_line(context(true), "dead")->act, Do::Symptom);
    EXPECT_EQ(parse_bench_line(context(true), "surge")->act, Do::History);
    EXPECT_EQ(parse_bench_line(context(true), "substitute U1 works")->act, Do::Substitute);
    EXPECT_EQ(parse_bench_line(context(true), "clean")->act, Do::Clean);
}

TEST(BenchLine, SaysWhatIsWrong) {
    EXPECT_EQ(wrong("X9 12"), ProblemKind::NoSuchPart);
    EXPECT_EQ(wrong("lift X9"), ProblemKind::NoSuchPart);
    EXPECT_EQ(wrong("C5"), ProblemKind::Usage);
    EXPECT_EQ(wrong(""), ProblemKind::Usage);
    EXPECT_EQ(wrong("Q1 D-X 3"), ProblemKind::UnknownPin);
    EXPECT_EQ(wrong("HV HV 3"), ProblemKind::SameNetTwice);
    EXPECT_EQ(wrong("C5 ohm -3"), ProblemKind::NegativeValue);
    EXPECT_EQ(wrong("C5 ohm abc"), ProblemKind::UnreadableValue);
    EXPECT_EQ(wrong("pull C5"), ProblemKind::NotAConnector);
    EXPECT_EQ(wrong("bad R9 bulged"), ProblemKind::UnknownFaultMode);
    EXPECT_EQ(wrong("look C5 purple"), ProblemKind::UnknownWord);
    EXPECT_EQ(wrong("discharge"), ProblemKind::Usage);
}

TEST(BenchLine, Completes) {
    const auto refs = complete_bench_line(context(true), "C2");
    EXPECT_NE(std::find(refs.begin(), refs.end(), "C20"), refs.end());
    EXPECT_EQ(complete_bench_line(context(true), "lift Q").front(), "Q1");
    EXPECT_EQ(complete_bench_line(context(true), "C5 bul").front(), "bulged");
    EXPECT_EQ(complete_bench_line(context(true), "+2").front(), "+24A");
    EXPECT_TRUE(complete_bench_line(context(true), "").empty());
}

// Anything may be typed.
TEST(BenchLine, NoLineCrashes) {
    std::mt19937 random(12);
    const std::vector<std::string> words = {"C5",  "Q1",     "D-S",    "HV",       "PGND",  "+24",   "V",    "ohm",
                                            "esr", "2.9",    "1k9",    "open",     "short", "lift",  "-",    "--",
                                            "1-",  "bulged", "rising", "\xC2\xB5", "0",     "1e999", "look", "note"};
    for (int k = 0; k < 3000; ++k) {
        std::string line;
        for (auto n = random() % 5; n > 0; --n) line += words[random() % words.size()] + " ";
        const auto e = parse_bench_line(context(k % 2 == 0), line);
        if (e)
            EXPECT_FALSE(wording::understood(demo_board(), *e).empty());
        else
            EXPECT_FALSE(wording::problem(e.problem()).empty());
        (void)complete_bench_line(context(true), line);
    }
}
