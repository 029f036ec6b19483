// SPDX-License-Identifier: GPL-3.0-or-later
// Windings on the mains: what they deliver, what they resist, which shorts they feed, and whether a fuse notices.
#include "board/line_windings.h"
#include "board/nominal.h"
#include "damage/behaviour.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

double line_amps(const Board& b, const std::string& by) { return line_amps_into(find_roles(b).line_windings, b, fault(b, by)); }

} // namespace

TEST(LineWindings, FollowFromVoltsAndAmperes) {
    const Board b = foreign("winder-supply").board;
    const auto w = find_roles(b).line_windings;
    ASSERT_EQ(w.size(), 3U);
    EXPECT_NEAR(w[1].volts, 47, 0.5); // 230 V by 141 to 690 turns
    EXPECT_NEAR(w[2].volts, 15, 0.2);
    EXPECT_NEAR(w[1].amps, b.practice().winding_rms_share * 6, 1e-9);
    EXPECT_NEAR(w[0].amps, (w[1].volts * w[1].amps + w[2].volts * w[2].amps) / 230, 1e-9);
    for (const auto& each : w) EXPECT_NEAR(each.ohms * each.amps / each.volts, b.practice().winding_share, 1e-9);
    for (const auto& each : w) EXPECT_FALSE(each.given);
}

// The strong winding blows the fuse of the mains, the small one beside it only grows hot; behind its own fuse or regulator nothing does.
TEST(LineWindings, WhichShortsTheyFeed) {
    const Board b = foreign("winder-supply").board;
    const double rated = *likely_value(b.part(at(b, "F1")))->amps;
    for (const char* by : {"BR1:short@~1+", "BR1:short@~2-", "C1:short", "C3:short"}) EXPECT_GT(line_amps(b, by), 3 * rated) << by;
    for (const char* by : {"BR2:short@~1+", "C4:short", "C5:short"}) {
        EXPECT_GT(line_amps(b, by), 0.1) << by;
        EXPECT_LT(line_amps(b, by), 2 * rated) << by;
    }
    for (const char* by : {"C6:short", "C1:dry", "F2:open", "D1:short", "R3:open", "U1:output-short"}) EXPECT_EQ(line_amps(b, by), 0) << by;
}

// What the small one feeds is pulled down with it, and nothing else.
TEST(LineWindings, WhatAShortPullsDown) {
    const Board b = foreign("winder-supply").board;
    const auto w = find_roles(b).line_windings;
    for (const char* by : {"BR2:short@~1+", "C4:short"}) {
        EXPECT_FALSE(pulled_down(w, 0, b, {fault(b, by)})) << by;
        EXPECT_TRUE(pulled_down(w, 1, b, {fault(b, by)})) << by;
    }
    EXPECT_FALSE(pulled_down(w, 1, b, {fault(b, "C1:short")}));
    BehaviourModel behaviour(b, find_roles(b));
    EXPECT_EQ(behaviour.judge({fault(b, "BR1:short@~1+")}).running, Running::BlowsFuse);
    EXPECT_EQ(behaviour.judge({fault(b, "BR2:short@~1+")}).running, Running::Weak);
}

// The stages may be called anything, and be called nothing.
TEST(LineWindings, NotByTheNameOfAStage) {
    Board draft = foreign("winder-supply").board;
    for (auto& part : draft.parts)
        if (part.stage != "mains-in") part.stage = "";
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    EXPECT_NEAR(line_amps(made->board, "BR1:short@~1+"), line_amps(foreign("winder-supply").board, "BR1:short@~1+"), 1e-9);
}

TEST(LineWindings, WhatTheBoardGivesStands) {
    Board draft = foreign("winder-supply").board;
    draft.parts[static_cast<std::size_t>(at(draft, "T1"))].winding_ohms["P1-P2"] = 70;
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    const auto w = find_roles(made->board).line_windings;
    EXPECT_TRUE(w[0].given);
    EXPECT_EQ(w[0].ohms, 70);
    EXPECT_LT(line_amps(made->board, "BR1:short@~1+"), 0.5 * line_amps(foreign("winder-supply").board, "BR1:short@~1+"));
}

// Through the way back of everything a winding would reach what another one feeds; halves of a tapped one share.
TEST(LineWindings, WhichRailsTheyFeed) {
    const Board b = foreign("strain-amplifier").board;
    const auto w = find_roles(b).line_windings;
    ASSERT_EQ(w.size(), 4U);
    EXPECT_EQ(w[1].rails, (std::vector{0, 1}));
    EXPECT_EQ(w[2].rails, (std::vector{0, 1}));
    EXPECT_EQ(w[3].rails, std::vector{2});
    EXPECT_NEAR(w[1].amps, b.practice().winding_rms_share * 0.4, 1e-9); // half of 0.4 A at +15 V, half of it at -15 V
    EXPECT_NEAR(w[3].amps, b.practice().winding_rms_share, 1e-9);
}

// Rails that say no amperes: the fuse tells what the primary takes.
TEST(LineWindings, ByTheFuse) {
    Board draft = foreign("winder-supply").board;
    for (auto& rail : draft.rails) rail.amps = 0;
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    EXPECT_NEAR(find_roles(made->board).line_windings[0].amps, 4 / made->board.practice().taken_fuse_share, 1e-9);
}

TEST(LineWindings, NoneWithoutMains) { EXPECT_TRUE(find_roles(foreign("pattern-reader").board).line_windings.empty()); }
