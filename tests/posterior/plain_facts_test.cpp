// SPDX-License-Identifier: GPL-3.0-or-later
// What several findings say together, and what more evidence may never unsay; one finding each: settled_by_one_test.cpp. Common practice,
// no source.
#include "job/board_files.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry open(const char* part) { return over(alone("ohms", part, 0)); }

Job start() { return discharged("rb6-fresh").with(act(Do::Symptom, "", "dead")); }

} // namespace

TEST(PlainFacts, FourDeadCapacitorsAreFour) {
    Job job = start();
    std::vector<std::string> dead;
    for (const char* ref : {"C16", "C18", "C20", "C21"}) {
        job = job.with(alone("esr", ref, 3));
        dead.emplace_back(ref);
        const auto a = analyse(job);
        for (const auto& d : dead) EXPECT_GT(bad(*a, d), 0.97) << d << " of " << dead.size();
    }
}

TEST(PlainFacts, LeakingCapacitorsMakeEachOtherMoreSuspect) {
    Job job = start();
    double one = 0;
    for (const char* ref : {"C16", "C18", "C20", "C21"}) {
        job = job.with(act(Do::Look, ref, "leaking"));
        const double now = bad(*analyse(job), "C16");
        EXPECT_GE(now, one - 0.025);
        one = now;
    }
    EXPECT_GT(one, 0.85);
}

TEST(PlainFacts, TheTextbookCaseIsCertain) {
    const auto a = analyse(start()
                               .with(open("F1"))
                               .with(alone("farads", "C5", 1e-6))
                               .with(alone("esr", "C5", 25))
                               .with(alone("ohms", "Q1", 0.2))
                               .with(open("R9")));
    for (const char* ref : {"F1", "C5", "Q1", "R9"}) EXPECT_GT(bad(*a, ref), 0.98) << ref;
    EXPECT_LT(a->assessment.unexplained, 0.02);
    EXPECT_TRUE(a->assessment.contradicted_by.empty());
    EXPECT_EQ(a->assessment.stories.front().scenario.steps.front().fault.part, at(a->replay.board, "C5"));
}

TEST(PlainFacts, WhatReadsOpenOnTheBenchIsOpen) {
    EXPECT_GT(bad(*analyse(start().with(open("R18"))), "R18"), 0.9);
    EXPECT_GT(bad(*analyse(start().with(open("F1"))), "F1"), 0.98);
    const Job nearly_nothing = start().with(alone("farads", "C16", 3e-9));
    EXPECT_GT(bad(*analyse(nearly_nothing), "C16"), 0.97);
    EXPECT_GT(bad(*analyse(nearly_nothing.with(alone("farads", "C16", 3e-9))), "C16"), 0.99);
    EXPECT_GT(bad(*analyse(start().with(alone("ohms", "C16", 0.05))), "C16"), 0.97);
    EXPECT_GT(bad(*analyse(start().with(alone("ohms", "Q1", 3.5))), "Q1"), 0.98);
}

TEST(PlainFacts, WhatReadsRightIsGood) {
    EXPECT_LT(bad(*analyse(start().with(alone("ohms", "F1", 0.2))), "F1"), 0.01);
    const auto a = analyse(start().with(alone("esr", "C16", 0.05)).with(alone("farads", "C16", 1.0e-3)));
    EXPECT_LT(bad(*a, "C16"), 0.05);
}

// Evidence on one part never takes away what was read on another alone.
TEST(PlainFacts, NothingUnsaysAPart) {
    Job job = start().with(alone("ohms", "Q1", 0.4));
    const double before = bad(*analyse(job), "Q1");
    ASSERT_GT(before, 0.9);
    for (const Entry& e :
         {open("R18"), alone("esr", "C20", 4), act(Do::Look, "C17", "bulged"), open("R2"), alone("diode", "D7", 0.001), open("F1")}) {
        job = job.with(e);
        EXPECT_GT(bad(*analyse(job), "Q1"), before * 0.99);
    }
}

// What is in parallel only lowers a reading: a fuse that reads open in its place is open, a resistor above its value has gone high, also
// where another reading (no bleeder of 200 kilohm can read open) fits no story at all.
TEST(PlainFacts, WhatReadsOpenInItsPlaceIsOpenWhateverElseIsOdd) {
    const Job odd = with_all(discharged("tl12-half-bridge"), {read_part("ohms", "Q1", 0.3), over(read("ohms", "HV", "PGND", 0))});
    const auto a = analyse(odd.with(over(read_part("ohms", "F1", 0))));
    EXPECT_FALSE(a->assessment.contradicted_by.empty());
    EXPECT_GT(bad(*a, "F1"), 0.9);
    EXPECT_LT(bad(*analyse(odd.with(read_part("ohms", "F1", 0.1))), "F1"), 0.05);
}

// A bang is heard of a switch that shorted, hardly ever of a capacitor that dried out: one that is found does not account for it.
TEST(PlainFacts, ABangSpeaksOfWhatBursts) {
    const auto switches = [](const Analysis& a) { return std::max(bad(a, "Q1"), bad(a, "Q2")); };
    const Job start = discharged("tl12-half-bridge").with(act(Do::Symptom, "", "dead"));
    const auto quiet = analyse(start.with(alone("esr", "C15", 20))),
               loud = analyse(with_all(start, {act(Do::Symptom, "", "bang"), alone("esr", "C15", 20)}));
    EXPECT_GT(bad(*loud, "C15"), 0.88);
    EXPECT_GT(switches(*loud), 2 * switches(*quiet));
    EXPECT_GT(switches(*loud), 0.2);
}

// A reading that a sound part can only take for a slip of the leads teaches nothing of it: what is read in its place still decides.
TEST(PlainFacts, ASlipTeachesNothing) {
    const Job job = job_of_board(board({"CX1 x-capacitor 100n 1=L 2=N", "R1 resistor 1M 1=L 2=N", "F1 fuse T2A 1=LIN 2=L"}))
                        .with(alone("farads", "CX1", 2e-12));
    const double before = bad(*analyse(job), "CX1");
    EXPECT_LT(bad(*analyse(job.with(read("farads", "L", "N", 98e-9))), "CX1"), 0.85 * before) << before;
    EXPECT_GT(bad(*analyse(job.with(read("farads", "L", "N", 3e-10))), "CX1"), 0.9); // what hangs there beside it
}
