// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/spoken.h"

#include "report/job_progress.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

TEST(Spoken, UnitsSignsAndAbbreviationsAreWords) {
    EXPECT_EQ(spoken("resistance across C5 = 1.90 kΩ, in circuit"), "resistance across C5 is 1.90 kilohms, in circuit");
    EXPECT_EQ(spoken("ESR across C5 (red on +, black on −)"), "E S R across C5, red on plus, black on minus");
    EXPECT_EQ(spoken("from +24V (red) to 0V (black)"), "from plus 24 volts, red to 0V, black");
    EXPECT_EQ(spoken("68.0 µF 12 V 3 A 5 %"), "68.0 microfarads 12 volts 3 amperes 5 per cent");
    EXPECT_EQ(spoken("C–E … over range ↑"), "C to E over range, rising");
}

// A letter is a unit only after a number: net A and pin V keep their names.
TEST(Spoken, NamesStay) { EXPECT_EQ(spoken("ohms from A to V"), "ohms from A to V"); }

TEST(Progress, SaysHowFarAJobIs) {
    const auto state = [](const Job& job) { return job_progress(job, replay(job)).state; };
    Job job = demo("rb6-fresh");
    EXPECT_EQ(job_progress(job, replay(job)).unit, "Quillmere RB-6 Rope braider");
    EXPECT_EQ(state(job), "taken in: dead, bang");
    job = discharged("rb6-fresh");
    EXPECT_EQ(state(job), "made safe");
    job = job.with(read("ohms", "HV", "PGND", 41.2));
    EXPECT_EQ(state(job), "1 reading");
    job = job.with(act(Do::Replace, "Q1")).with(act(Do::Replace, "F1")).with(read("ohms", "HV", "PGND", 300e3));
    EXPECT_EQ(state(job), "2 readings, 2 parts renewed");
    Entry step = act(Do::PowerStep, "", "passed");
    step.step = "lamp";
    EXPECT_EQ(state(job.with(step)), "2 readings, 2 parts renewed, power up: lamp in series passed, mains is connected");
    EXPECT_EQ(state(job.with(act(Do::SignOff, "", "repaired"))), "signed off: repaired");
    Entry back;
    back.act = Do::Retract;
    back.target = static_cast<int>(job.journal.size()) - 1;
    EXPECT_EQ(state(job.with(back)), "1 reading, 2 parts renewed");
    Job blank;
    EXPECT_EQ(state(blank), "just begun");
}
