// SPDX-License-Identifier: GPL-3.0-or-later
// What counts as read between its own pins.
#include "advice/unread.h"

#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Evidence with(const Board& b, const std::vector<std::pair<const char*, const char*>>& places) {
    Evidence out;
    for (const auto& [red, black] : places) {
        Observation& o = out.observations.emplace_back();
        o.kind = Seen::Reading;
        o.query.red = *b.find_net(red);
        o.query.black = *b.find_net(black);
    }
    return out;
}

} // namespace

// One of its legs hides behind the others: a bridge is read when each was.
TEST(Unread, ABridgeIsReadLegByLeg) {
    const Board& b = demo_board();
    const int bridge = at(b, "BR1");
    EXPECT_FALSE(read_across(b, with(b, {}), bridge));
    EXPECT_FALSE(read_across(b, with(b, {{"HV", "PGND"}, {"HV", "N2"}, {"AC1", "PGND"}}), bridge));
    EXPECT_FALSE(read_across(b, with(b, {{"HV", "N2"}, {"AC1", "PGND"}, {"HV", "AC1"}}), bridge));
    const Evidence all = with(b, {{"HV", "N2"}, {"AC1", "PGND"}, {"HV", "AC1"}, {"N2", "PGND"}});
    EXPECT_TRUE(read_across(b, all, bridge));
    Evidence renewed = with(b, {});
    renewed.renewed.insert(bridge);
    EXPECT_TRUE(read_across(b, renewed, bridge));
}

TEST(Unread, ATransistorWhereItCarries) {
    const Board& b = demo_board();
    EXPECT_FALSE(read_across(b, with(b, {{"GATE", "SRC"}}), at(b, "Q1")));
    EXPECT_TRUE(read_across(b, with(b, {{"SRC", "DRAIN"}}), at(b, "Q1")));
}

// An inrush limiter is open, two legs of the bridge before the reservoir read as they should: the other two may still have opened it.
TEST(Unread, AnOpenLimiterHasEveryLegRead) {
    const Board& b = demo_board();
    const Job job = with_all(discharged("rb6-fresh").with(said("dead")), {over(alone("ohms", "RT1", 0)), over(alone("ohms", "RT1", 0)),
                                                                          alone("ohms", "Q1", 2e6), read("ohms", "HV", "N2", 480e3)});
    const auto a = analyse(job);
    ASSERT_GT(bad(*a, "RT1"), 0.9);
    const auto blown = may_have_blown(b, a->assessment, a->replay.evidence);
    EXPECT_TRUE(blown.contains(at(b, "BR1")));
}

// A wet or bulged top is now and then glue, or what ran from the neighbour; a hole is not, and what was read has been read.
TEST(Unread, WhatOnlyLooksBad) {
    const Job job = discharged("rb6-fresh").with(said("dead"));
    const auto only_looks = [&](const std::vector<Entry>& entries) {
        const auto a = analyse(with_all(job, entries));
        return only_looks_bad(a->replay.board.practice(), a->replay.evidence, a->assessment.of(at(a->replay.board, "C16")));
    };
    EXPECT_TRUE(only_looks({act(Do::Look, "C16", "leaking")}));
    EXPECT_TRUE(only_looks({act(Do::Look, "C16", "bulged"), alone("esr", "C18", 3)}));
    EXPECT_FALSE(only_looks({act(Do::Look, "C16", "vented")}));
    EXPECT_FALSE(only_looks({act(Do::Look, "C16", "leaking"), alone("esr", "C16", 3)}));
    EXPECT_FALSE(only_looks({alone("esr", "C16", 3)}));
}
