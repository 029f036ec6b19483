// SPDX-License-Identifier: GPL-3.0-or-later
// The tree of a rail: who hands it on, what hangs where, and chances that add up to one.
#include "job/hunt.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// A trunk of two tracks, a branch behind a connector, one behind a sense resistor; a resistor of 10 ohm hands nothing on.
Job branched() {
    Board draft = board({"J1 connector - 1=V.in 1'=V 2=0V.in 2'=0V", "W1 track - 1=V 2=A", "W2 track - 1=A 2=B", "J2 connector - 1=B 1'=C",
                         "R1 resistor 0R1 1=A 2=D", "R2 resistor 10 1=D 2=E", "C1 tantalum 10u +=V -=0V", "C2 ceramic 100n 1=A 2=0V",
                         "C3 ceramic 100n 1=C 2=0V", "C4 ceramic 100n 1=D 2=0V", "C5 ceramic 100n 1=E 2=0V"});
    draft.rails = {{"V", "0V", 5, 0.05, 1, -1, -1}};
    Job job = discharged("gl1-adapter");
    job.board = make_board(draft)->board;
    return job;
}

const HuntPlace& place(const Hunt& hunt, const Board& board, const std::string& net) {
    for (const auto& p : hunt.places)
        if (board.net_name(p.net) == net) return p;
    ADD_FAILURE() << net << " is not on the tree";
    return hunt.places.front();
}

} // namespace

TEST(Hunt, FollowsWhatHandsTheRailOn) {
    const auto a = analyse(branched());
    const Board& b = a->replay.board;
    const Hunt h = hunt(*a, 0);
    EXPECT_EQ(h.places.size(), 6U) << "V, V.in, A, B, C, D; E stands behind 10 ohm";
    EXPECT_EQ(b.net_name(h.places.front().net), "V");
    EXPECT_EQ(place(h, b, "C").depth, 3);
    EXPECT_EQ(place(h, b, "D").via, at(b, "R1"));
    double here = 0;
    for (const auto& p : h.places) {
        here += p.here;
        double below = p.here;
        for (const auto& q : h.places)
            if (q.above >= 0 && &h.places[static_cast<std::size_t>(q.above)] == &p) below += q.beyond;
        EXPECT_NEAR(p.beyond, below, 1e-12) << b.net_name(p.net);
    }
    EXPECT_NEAR(here, 1, 1e-9);
    EXPECT_NEAR(h.places.front().beyond, 1, 1e-9);
}

TEST(Hunt, AShortMovesTheChanceToItsBranch) {
    const Job low = branched().with(act(Do::Symptom, "", "dead"));
    const auto before = analyse(low.with(read("ohms", "V", "0V", 0.35)));
    const auto after = analyse(with_all(low, {read("ohms", "V", "0V", 0.35), alone("ohms", "C3", 0.3)}));
    const Board& b = after->replay.board;
    const Hunt first = hunt(*before, 0), then = hunt(*after, 0);
    EXPECT_GT(first.shorted, 0.95) << "nothing but capacitors joins this rail to its return";
    EXPECT_NEAR(place(first, b, "V").ohms.value_or(0), 0.35, 1e-9);
    EXPECT_GT(place(then, b, "C").here, place(first, b, "C").here + 0.3);
    EXPECT_NEAR(place(then, b, "B").beyond, place(then, b, "C").here, 1e-9) << "nothing else hangs out there";
    EXPECT_LT(place(then, b, "D").beyond, place(first, b, "D").beyond);
}

TEST(Hunt, ThePulledDownRailComesFirst) {
    const auto a = analyse(with_all(discharged("rb6-fresh"), {act(Do::Symptom, "", "ticking"), read("ohms", "+12V", "0V", 0.4)}));
    const auto& rails = a->replay.board.rails;
    EXPECT_EQ(rails[static_cast<std::size_t>(rails_by_suspicion(*a).front())].net, "+12V");
}
