// SPDX-License-Identifier: GPL-3.0-or-later
// What is worked out once for parts that no reading tells apart holds for each of them, and ends where something does.
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Job rail() {
    Job job = discharged("gl1-adapter");
    job.board = board({"C1 ceramic 100n 1=5V 2=0V", "C2 ceramic 100n 1=5V 2=0V", "C3 ceramic 100n 1=5V 2=0V", "C4 ceramic 100n 1=5V 2=0V",
                       "R1 resistor 1k 1=5V 2=0V", "R2 resistor 10k 1=5V 2=A", "C5 ceramic 100n 1=A 2=0V"});
    return job;
}

} // namespace

TEST(Twins, AreEquallySuspect) {
    const auto a = analyse(rail().with(read("ohms", "5V", "0V", 0.6)));
    double sum = 0;
    for (const char* ref : {"C1", "C2", "C3", "C4"}) {
        EXPECT_NEAR(bad(*a, ref), bad(*a, "C1"), 1e-3) << ref;
        sum += bad(*a, ref);
    }
    EXPECT_GT(sum, 0.9);
    EXPECT_LT(bad(*a, "C5"), bad(*a, "C1") / 2) << "on another net";
}

TEST(Twins, EndWhereOneIsReadAlone) {
    const auto a = analyse(with_all(rail(), {read("ohms", "5V", "0V", 0.6), act(Do::Lift, "C2"), over(alone("ohms", "C2", 0))}));
    EXPECT_LT(bad(*a, "C2"), 0.02);
    EXPECT_NEAR(bad(*a, "C1"), bad(*a, "C3"), 1e-3);
}

// Two snubber resistors side by side: a brown look makes one of them likelier, the other is not acquitted by it.
TEST(Twins, ALookDecidesOnlyAsFarAsLooksDo) {
    const auto a = analyse(with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "dead"), act(Do::Look, "R6", "brown"),
                                                              act(Do::Look, "R7", "fine"), read("farads", "HV", "CLAMP", 0.346e-6)}));
    EXPECT_GT(bad(*a, "R6"), bad(*a, "R7"));
    EXPECT_GT(bad(*a, "R7"), 0.01);
}
