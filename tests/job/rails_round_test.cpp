// SPDX-License-Identifier: GPL-3.0-or-later
// Of three rails two agree: common practice, no source.
#include "support/demo.h"

#include "job/rails_round.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<RailVerdict> verdicts(double v24, double v12, double v5) {
    const auto a = analyse(demo("rb6-half-way")
                               .with(read("ohms", "+24V", "0V", v24))
                               .with(read("ohms", "+12V", "0V", v12))
                               .with(read("ohms", "+5V", "0V", v5)));
    std::vector<RailVerdict> out;
    for (const auto& row : rails_round(*a, false)) out.push_back(row.verdict);
    return out;
}

} // namespace

TEST(RailsRound, TheOddOneOutIsMarked) {
    using V = RailVerdict;
    EXPECT_EQ(verdicts(1400, 625, 164), (std::vector<V>{V::Fine, V::Fine, V::Fine}));
    EXPECT_EQ(verdicts(1400, 0.8, 164), (std::vector<V>{V::Fine, V::OddOneOut, V::Fine}));
    EXPECT_EQ(verdicts(0.6, 625, 164), (std::vector<V>{V::OddOneOut, V::Fine, V::Fine}));
    // Loads that nobody told draw on all rails alike: none is odd.
    EXPECT_EQ(verdicts(1400 / 5.0, 625 / 5.0, 164 / 5.0), (std::vector<V>{V::Fine, V::Fine, V::Fine}));
    // All of them short is no sisterhood.
    EXPECT_EQ(verdicts(0.8, 0.4, 0.1), (std::vector<V>{V::Low, V::Low, V::Low}));
}

TEST(RailsRound, LiveRailsAreHeldToTheirTolerance) {
    Job job = demo("rb6-half-way");
    for (const auto& [net, volts] : {std::pair{"+24V", 24.3}, std::pair{"+12V", 10.1}}) {
        Entry e = read("volts-dc", net, "0V", volts);
        e.powered = "mains";
        job = job.with(e);
    }
    const auto rows = rails_round(*analyse(job), true);
    ASSERT_EQ(rows.size(), 3u);
    EXPECT_EQ(rows[0].verdict, RailVerdict::Fine);
    EXPECT_EQ(rows[1].verdict, RailVerdict::Low);
    EXPECT_EQ(rows[2].verdict, RailVerdict::Unread);
    EXPECT_DOUBLE_EQ(rows[0].sound.low, 24 * 0.95);
}

// What a meter shows at the contacts of an outlet, or on either side of a coil, is the rail's; but a contact that is open proves nothing of
// what lies behind it.
TEST(RailsRound, AtItsContacts) {
    const Job job = demo("rb6-half-way");
    const auto hot = analyse(job.with(live("volts-dc", "+24V.out", "0V.out", 31)));
    EXPECT_EQ(rails_round(*hot, true)[0].verdict, RailVerdict::High);
    ASSERT_FALSE(hot->replay.live_readings.empty());
    EXPECT_EQ(hot->replay.live_readings.back().where, "+24V") << "or nothing would stop for it";
    const Entry at_outlet = read("ohms", "+12V.out", "0V.out", 620);
    const auto cold = analyse(discharged("rb6-fresh").with(at_outlet)), open = analyse(discharged("rb6-fresh").with(over(at_outlet)));
    EXPECT_TRUE(rails_round(*cold, false)[1].value.has_value());
    EXPECT_TRUE(cold->replay.facts.rail_ohms.contains(1));
    EXPECT_FALSE(open->replay.facts.rail_ohms.contains(1));
}
