// SPDX-License-Identifier: GPL-3.0-or-later
// A search saves work by taking readings for unmoved: no state that counts may say that it fits better than it does, and no reading of a
// short be given up for one that does.
#include "belief/belief.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::belief;
using namespace ohmo::test;

namespace {

Job without_values(Job job, const std::vector<const char*>& refs) {
    for (const char* ref : refs) job.board.parts[static_cast<std::size_t>(at(job.board, ref))].value.clear();
    return job;
}

// A Zener that was through, on a linear supply with parts that nobody could read; one leg of the bridge is through as well.
Job two_shorts() {
    return with_all(without_values(discharged("fd1-linear"), {"BR1", "C2", "C5", "R1", "R3", "D3", "Q1", "Q2", "C1"}),
                    {said("low-output"), said("hum"), act(Do::Look, "D1", "brown"), read("diode", "DB", "ZK", 1.075),
                     read("diode", "EMI", "RESF", 0.544), read("diode", "PB", "DB", 0.945), read("ohms", "TAP", "ZK", 602.33),
                     read("ohms", "ZK", "TAP", 602.67), read("esr", "RES", "0V", 0.008), read("esr", "+13V8", "0V", 0.054),
                     read("ohms", "RESF", "PB", 2756.7), read("ohms", "0V", "RES", 2226.7), read("diode", "0V", "RES", 0.547),
                     read("diode", "RES", "SA", 0.0)});
}

} // namespace

TEST(Evidence, AStateFitsAsWellAsItSays) {
    constexpr double kCounts = 0.002, kOff = 2.5; // chance; nats
    int held = 0;
    for (const Job& job :
         {two_shorts(), demo("rb6-half-way"),
          with_all(discharged("rb6-fresh"), {said("dead"), over(read("ohms", "LS", "L1", 0)), read("ohms", "HV", "PGND", 3.1),
                                             read("ohms", "+5V", "0V", 0.9), read("diode", "GATE", "SRC", 0.01)})}) {
        const auto a = analyse(job);
        for (const auto& search : a->assessment.belief->islands()) {
            if (search->seen().empty()) continue;
            for (const auto& s : search->states()) {
                if (!s->solved || s->p < kCounts) continue;
                ++held;
                EXPECT_GT(search->fit_of(*s, 0).evidence, s->evidence - kOff) << job.board.name;
            }
        }
    }
    EXPECT_GT(held, 10);
}

TEST(Evidence, ALegOfABridgeThatShowsNoVoltsIsThrough) {
    const auto a = analyse(two_shorts());
    EXPECT_GT(bad(*a, "BR1"), 0.95);
    EXPECT_GT(bad(*a, "D1"), 0.95);
    EXPECT_TRUE(a->assessment.contradicted_by.empty());
}

// What a chip's pins draw is known to a decade and more; some ohms to ground are no pin that draws much, but one that is shorted.
TEST(Evidence, APinOfSomeOhmsIsShorted) {
    const auto a =
        analyse(with_all(discharged("gl1-adapter"), {read("ohms", "+12V", "0V", 0.4), over(alone("ohms", "C4", 0)),
                                                     over(alone("ohms", "C3", 0)), act(Do::Pull, "J2"), read("ohms", "+12V", "0V", 0.4)}));
    for (const auto& l : a->assessment.learned)
        if (l.what == "pin") EXPECT_GT(l.now, 0.3 * a->replay.board.practice().least_pin_ohms);
    EXPECT_LT(a->assessment.supply_good, 0.1);
}
