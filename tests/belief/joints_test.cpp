// SPDX-License-Identifier: GPL-3.0-or-later
// Cracked joints: no reading shows them, what comes and goes is theirs, and resoldering ends them. Common practice, no source.
#include "belief/belief.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const std::vector<const char*> kBoards = {"rb6-fresh", "gl1-adapter", "sw3-flyback-integrated", "fd1-linear", "tl12-half-bridge"};

double joints(const Analysis& a) {
    double sum = 0;
    for (const auto& b : a.assessment.parts)
        if (const auto at = b.modes.find(FaultMode::DryJoint); at != b.modes.end()) sum += at->second;
    return sum;
}

// The joint that is suspected most.
const PartBelief& worst(const Analysis& a) {
    const auto of = [](const PartBelief& b) {
        const auto at = b.modes.find(FaultMode::DryJoint);
        return at == b.modes.end() ? 0.0 : at->second;
    };
    return *std::max_element(a.assessment.parts.begin(), a.assessment.parts.end(),
                             [&](const PartBelief& x, const PartBelief& y) { return of(x) < of(y); });
}

} // namespace

TEST(Joints, WhatComesAndGoesIsTheirs) {
    for (const char* board : kBoards) {
        const auto comes = analyse(discharged(board).with(said("comes-and-goes"))), dead = analyse(discharged(board).with(said("dead")));
        EXPECT_GT(joints(*comes), 0.06) << board;
        EXPECT_LT(joints(*dead), 0.1) << board;
        EXPECT_GT(joints(*comes), 3 * joints(*dead)) << board;
    }
}

TEST(Joints, ACrackSeenIsSolderedAndNotReplaced) {
    const Job before = discharged("rb6-fresh").with(said("comes-and-goes"));
    const std::string ref = analyse(before)->replay.board.part(worst(*analyse(before)).part).ref;
    const Job job = before.with(act(Do::Look, ref, "dry-joint"));
    const auto a = analyse(job);
    EXPECT_GT(bad(*a, ref), 0.5);
    const auto line = std::find_if(a->plan.lines.begin(), a->plan.lines.end(),
                                   [&](const PlanLine& l) { return a->replay.board.part(l.part).ref == ref; });
    ASSERT_NE(line, a->plan.lines.end());
    EXPECT_TRUE(line->resolder);
    EXPECT_FALSE(line->choice);
    EXPECT_EQ(a->plan.to_order, 0);
    const auto then = analyse(job.with(act(Do::Resolder, ref)));
    EXPECT_LT(bad(*then, ref), 0.3 * bad(*a, ref)) << "what is left are its contacts";
    ASSERT_FALSE(then->plan.lines.empty());
    EXPECT_TRUE(then->plan.lines.front().done && then->plan.lines.front().resolder);
    EXPECT_TRUE(then->replay.facts.bad_in_place.empty());
}

// The part stays: its other faults do. And its work is proved as other work is, but for what only a new part can be.
TEST(Joints, ResolderingMendsNothingElse) {
    const Job job = discharged("rb6-fresh").with(act(Do::Resolder, "C5"));
    const auto a = analyse(job.with(alone("esr", "C5", 4)));
    EXPECT_GT(bad(*a, "C5"), 0.9);
    EXPECT_FALSE(a->work.empty());
    for (const auto& w : a->work)
        for (const auto& slip : w.check.catches)
            EXPECT_TRUE(slip.kind == SlipKind::LiftedPad || slip.kind == SlipKind::Bridge) << "nobody turned it round";
}

// It still comes and goes: not that joint.
TEST(Joints, ATimeOfItsOwnAfterResoldering) {
    const Job before = discharged("rb6-fresh").with(said("comes-and-goes"));
    const auto a = analyse(before);
    const std::string ref = a->replay.board.part(worst(*a).part).ref;
    const auto still = analyse(before.with(act(Do::Resolder, ref)).with(said("comes-and-goes")));
    EXPECT_LT(bad(*still, ref), bad(*a, ref));
    EXPECT_EQ(still->assessment.belief->complaints().list.size(), 2u) << "two times, two complaints";
}

// Nobody spoke of coming and going: of a joint that does somebody would have, more often than not. Less so where it is what the words are
// of.
TEST(Joints, SilenceSpeaksAgainstThem) {
    const auto seen_dry = [](const char* board, const char* ref, const char* word) {
        return bad(*analyse(discharged(board).with(said(word)).with(act(Do::Look, ref, "dry-joint"))), ref);
    };
    EXPECT_LT(seen_dry("gl1-adapter", "J1", "low-output"), 0.55);
    EXPECT_GT(seen_dry("gl1-adapter", "J1", "comes-and-goes"), 0.6);
    EXPECT_GT(seen_dry("gl1-adapter", "J1", "dead"), seen_dry("gl1-adapter", "J1", "low-output")) << "one that stays open leaves it dead";
}
