// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "board/roles.h"
#include "damage/figures.h"
#include "job/bench_line.h"
#include "job/load_said.h"
#include "job/pipeline.h"
#include "report/wording.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry ripple(double volts, const char* load) {
    Entry e = read("ripple", "+24V", "0V", volts);
    e.powered = "mains";
    e.load = load;
    return e;
}

} // namespace

TEST(LoadSaid, SharesWattsAndWords) {
    const Board& board = demo_board();
    const auto rail = std::find_if(board.rails.begin(), board.rails.end(), [](const Rail& r) { return r.net == "+24V"; });
    ASSERT_NE(rail, board.rails.end());
    EXPECT_EQ(*load_share(board, "+24V", "idle"), 0);
    EXPECT_EQ(*load_share(board, "+24V", "Full"), 1);
    EXPECT_NEAR(*load_share(board, "+24V", "50%"), 0.5, 1e-12);
    EXPECT_NEAR(*load_share(board, "+24V", "0.25"), 0.25, 1e-12);
    EXPECT_NEAR(*load_share(board, "+24V", "12W"), 12 / (rail->volts * rail->amps), 1e-12);
    for (const char* wrong : {"", "soon", "-5%", "900%", "W"}) {
        const auto share = load_share(board, "+24V", wrong);
        ASSERT_FALSE(share) << wrong;
        EXPECT_EQ(share.problem().place, "/load");
    }
}

TEST(LoadSaid, InTheBenchLine) {
    const auto context = bench_context(replay(demo("rb6-half-way")), reader().vocabulary());
    const auto idle = parse_bench_line(context, "+24V 24.1 V mains idle"), half = parse_bench_line(context, "+24V 24.1 V mains at 30W");
    ASSERT_TRUE(idle && half);
    EXPECT_EQ(idle->load, "idle");
    EXPECT_EQ(half->load, "30W");
    EXPECT_EQ(wording::understood(demo_board(), *idle), "voltage, DC from +24V to 0V = 24.1 V, mains, idle");
    const auto wrong = parse_bench_line(context, "+24V 24.1 V mains at soon");
    ASSERT_FALSE(wrong);
    EXPECT_EQ(wrong.problem().kind, ProblemKind::OutOfRangeValue);
    const Job job = demo("rb6-half-way").with(*half);
    const auto again = reader().parse(job.text());
    ASSERT_TRUE(again);
    EXPECT_EQ(again->job.journal.back().load, "30W");
    EXPECT_NEAR(replay(again->job).evidence.observations.back().load.value_or(-1), 30 / (24 * 3.0), 0.2);
}

// A dry output capacitor hides at idle: as little ripple as a sound supply has at full load speaks against it, as little as it has at idle
// hardly.
TEST(LoadSaid, IdleProvesLess) {
    auto analyst = *Analyst::make(RealDisk(), data());
    const Job job = demo("rb6-fresh");
    FiguresModel figures(demo_board(), find_roles(demo_board()));
    const auto odds = [&](const char* load) {
        const double share = *load_share(demo_board(), "+24V", load);
        const auto a = analyst.analyse(job.with(ripple(figures.of({}, {}, share).rails[0].ripple, load)), {});
        const auto& modes = (*a)->assessment.of(at(demo_board(), "C17")).modes; // across the rail
        const double most = modes.contains(FaultMode::Dry) ? modes.at(FaultMode::Dry) : 0;
        return most;
    };
    const double idle = odds("idle"), full = odds("full");
    EXPECT_GT(idle, 1.2 * full) << full;
}
