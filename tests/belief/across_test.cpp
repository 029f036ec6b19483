// SPDX-License-Identifier: GPL-3.0-or-later
// A chain does not end at a transformer: what a shorted switch does to the chip that drives it through one.
#include "support/demo.h"

#include "belief/across.h"
#include "belief/belief.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry alone(const char* red, const char* black, double ohms) {
    Entry e = read_part("ohms", "Q2", ohms);
    e.lifted = true;
    e.pins = {red, black};
    return e;
}

} // namespace

TEST(Across, AShortedSwitchCastsDoubtOnTheChipBehindTheDriveTransformer) {
    const Job job = discharged("tl12-half-bridge").with(act(Do::Symptom, "", "dead"));
    const auto before = analyse(job);
    const auto after = analyse(job.with(alone("D", "S", 0.4)).with(alone("G", "S", 2.0)));
    ASSERT_GT(bad(*after, "Q2"), 0.98);
    const auto island = [&](const char* ref) {
        const auto& model = after->assessment.belief->model();
        return model.units[static_cast<std::size_t>(model.units_of[static_cast<std::size_t>(at(job.board, ref))].front())].island;
    };
    ASSERT_NE(island("Q2"), island("U1"));
    EXPECT_GT(bad(*after, "U1"), 3 * bad(*before, "U1"));
    EXPECT_GT(bad(*after, "U1"), job.board.practice().open_above); // it is asked for, not acquitted
    EXPECT_NEAR(bad(*after, "D3"), bad(*before, "D3"), 0.02);      // the standby rectifier has no part in it
}

// Never certain by it, however much is brought.
TEST(Across, LeavesRoomForThePartToBeSpared) {
    const auto a = analyse(discharged("tl12-half-bridge").with(alone("D", "S", 0.4)).with(alone("G", "S", 2.0)));
    const auto& belief = *a->assessment.belief;
    for (const auto& [island, units] : belief::brought_across(belief.model(), belief.net(), belief.islands()))
        for (const auto& [unit, by_mode] : units) {
            double all = 0;
            for (double p : by_mode) all += p;
            EXPECT_GT(all, 0);
            EXPECT_LE(all, 0.9 + 1e-9);
            EXPECT_EQ(belief.model().units[static_cast<std::size_t>(unit)].island, static_cast<int>(island));
        }
}
