// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "damage/blast.h"
#include "readings/words.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// The demo board with Q1 in the middle, one part beside it and one far away.
Board placed(const std::string& beside, const std::string& far) {
    Board b = demo_board();
    b.parts[static_cast<std::size_t>(at(b, "Q1"))].place = BoardPosition{50, 40};
    b.parts[static_cast<std::size_t>(at(b, beside))].place = BoardPosition{53, 44};
    b.parts[static_cast<std::size_t>(at(b, far))].place = BoardPosition{120, 40};
    return b;
}

} // namespace

TEST(Blast, ReachesWhatIsBesideIt) {
    const Board b = placed("R9", "R20");
    EXPECT_NEAR(*distance_mm(b, at(b, "Q1"), at(b, "R9")), 5, 1e-9);
    const auto q1 = faults(b, {"Q1:ds-short"});
    EXPECT_NEAR(blast_on(b, q1, at(b, "R9")).share, std::exp(-5 / shipped_practice().blast_millimetres), 1e-9);
    EXPECT_EQ(blast_on(b, q1, at(b, "R9")).from, at(b, "Q1"));
    EXPECT_EQ(blast_on(b, q1, at(b, "R20")).share, 0);                                 // 70 mm off
    EXPECT_EQ(blast_on(b, q1, at(b, "C5")).share, 0);                                  // not known where
    EXPECT_EQ(blast_on(b, faults(b, {"Q1:gate-leak"}), at(b, "R9")).share, 0);         // nothing bursts
    EXPECT_EQ(blast_on(demo_board(), faults(demo_board(), {"Q1:short"}), 3).share, 0); // no places
}

TEST(Blast, RaisesWhatSplintersAndSootDoAndNothingElse) {
    const Board b = placed("R9", "R20");
    const Blast near{0.8, 0, 3};
    EXPECT_GT(blast_factor(near, b, fault(b, "R9:open")), 10);
    EXPECT_EQ(blast_factor(near, b, fault(b, "C5:dry")), 1);
    EXPECT_EQ(blast_factor({}, b, fault(b, "R9:open")), 1);
    EXPECT_EQ(further_step(b, faults(b, {"Q1:short"}), fault(b, "R9:open")).cause, Cause::Blast);
    EXPECT_EQ(further_step(b, faults(b, {"Q1:short"}), fault(b, "R20:open")).cause, Cause::Independent);
}

TEST(Blast, RaisesTheNeighbourInTheScenarios) {
    const auto beside = [&](const Board& b) {
        const auto set = enumerate_scenarios(b, find_roles(b), library(), {}, {.most = 8000}, {});
        double with = 0;
        for (const auto& s : set->scenarios) {
            const auto f = s.faults();
            const auto has = [&](const char* ref) {
                return std::any_of(f.begin(), f.end(), [&](const Fault& x) { return x.part == at(b, ref); });
            };
            if (has("Q1") && has("R20")) with += s.prior;
        }
        return with;
    };
    const double unknown = beside(demo_board()), near = beside(placed("R20", "R19"));
    EXPECT_GT(near, 3 * unknown);
}

// Soot on a part that is sound is no sign against it when its neighbour burst.
TEST(Blast, SootPointsAtTheNeighbour) {
    const Board b = placed("R20", "R19");
    Observation soot;
    soot.kind = Seen::Look;
    soot.word = "soot";
    soot.part = at(b, "R20");
    const double burst = other_likelihood(b, library(), soot, faults(b, {"Q1:ds-short"}), {}),
                 quiet = other_likelihood(b, library(), soot, faults(b, {"C8:dry"}), {});
    EXPECT_GT(burst, 8 * quiet);
    double sum = 0;
    for (const char* word : {"fine", "soot"}) {
        soot.word = word;
        sum += other_likelihood(b, library(), soot, faults(b, {"Q1:ds-short"}), {});
    }
    EXPECT_LT(sum, 1.05);
}
