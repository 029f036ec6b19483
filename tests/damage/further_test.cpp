// SPDX-License-Identifier: GPL-3.0-or-later
// Faults beside a story: their odds, what they bring, and the ways a story may have gone on instead.
#include "support/demo.h"

#include "damage/enumerate.h"
#include "damage/further.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

const ScenarioSet& scenarios() {
    static const auto set = enumerate_scenarios(demo_board(), find_roles(demo_board()), library(), {}, {}, {});
    if (!set) std::abort();
    return *set;
}

std::vector<Step> story(const std::vector<std::string>& texts) {
    std::vector<Step> out;
    for (const auto& f : faults(demo_board(), texts)) out.push_back({f, out.empty() ? Cause::Root : Cause::Overcurrent, 0, 0, 0});
    return out;
}

double odds_beside(const std::vector<std::string>& texts, const std::string& fault_text) {
    const Board& b = demo_board();
    const auto& further = scenarios().further;
    const Beside beside = further.beside(b, story(texts));
    double sum = 0;
    for (const auto& more : further.all())
        if (more.first() == fault(b, fault_text)) sum += further.odds(b, beside, more);
    return sum;
}

// A switch (part 0) that takes a fuse (1), a chip (2), or both, or nothing.
FurtherFaults made_up() {
    const Fault gone{0, FaultMode::Short, {}}, fuse{1, FaultMode::Open, {}}, chip{2, FaultMode::OutputShort, {}};
    const Step first{gone, Cause::Root, 0, 0, 0}, blown{fuse, Cause::Overcurrent, 8, 2, 0}, pin{chip, Cause::PinCurrent, 3, 1, 0};
    FurtherFaults out(std::vector<char>(3, 0));
    out.add(gone, 0.02, {{{first, pin, blown}, 0.6}, {{first, blown}, 0.3}, {{first}, 0.1}});
    out.sort();
    return out;
}

} // namespace

TEST(Further, EveryWayIsListedLikeliestFirst) {
    const auto& further = scenarios().further;
    ASSERT_FALSE(further.all().empty());
    std::map<Fault, double> sums;
    double before = 1;
    for (const auto& more : further.all()) {
        EXPECT_LE(more.odds, before);
        before = more.odds;
        sums[more.first()] += more.odds;
        EXPECT_EQ(more.steps.front().cause, Cause::Independent);
    }
    double total = 0;
    for (const auto& [f, odds] : further.by_fault()) {
        total += odds;
        EXPECT_NEAR(sums[f], odds, 2e-3 * odds + 1e-5) << fault_text(demo_board(), f);
    }
    EXPECT_NEAR(total, library().second_fault, 1e-9);
    EXPECT_EQ(further.odds({0, FaultMode::Weak, "nowhere"}), 0);
}

TEST(Further, WhatHappenedMovesTheOdds) {
    EXPECT_EQ(odds_beside({"C5:dry"}, "C5:short"), 0);                                              // it has failed already
    EXPECT_NEAR(odds_beside({"C5:dry"}, "C16:dry") / odds_beside({"D6:short"}, "C16:dry"), 4, 0.1); // of one age
    EXPECT_LT(odds_beside({"F1:open"}, "D6:short"), 0.1 * odds_beside({"R6:open"}, "D6:short"));    // nothing shorts on a dead unit
    EXPECT_GT(odds_beside({"Q1:ds-short"}, "F1:open"), 0.04);                                       // an old fuse may go with less
    EXPECT_LT(odds_beside({"Q1:ds-short", "F1:open"}, "F1:open"), 1e-12);
    EXPECT_GT(odds_beside({"Q1:ds-short"}, "BR1:short@~1+"), 5 * odds_beside({"C16:dry"}, "BR1:short@~1+"));
}

TEST(Further, BringsItsChainOnce) {
    const auto further = made_up();
    Board none;
    none.parts.resize(3);
    Scenario scenario{{{{1, FaultMode::Open, {}}, Cause::Root, 0, 0, 0}}, 0.5};
    add_further(none, scenario.faults(), further.all().front(), scenario);
    ASSERT_EQ(scenario.steps.size(), 3u); // the fuse is not blown twice
    EXPECT_EQ(scenario.steps[1].fault.part, 0);
    EXPECT_EQ(scenario.steps[2].fault.part, 2);
}

TEST(Further, AStoryMayHaveGoneOnOtherwise) {
    const auto further = made_up();
    Scenario spared{{further.all().front().steps.front(), {{1, FaultMode::Open, {}}, Cause::Overcurrent, 8, 2, 0}}, 0.01};
    const auto others = gone_on_otherwise(further, spared);
    ASSERT_EQ(others.size(), 1u); // with the chip; that the fuse was spared is no addition
    EXPECT_EQ(others.front().steps.size(), 3u);
    EXPECT_EQ(others.front().steps.back().fault.part, 2);
    EXPECT_NEAR(others.front().prior, 0.01 * 0.6 / 0.3, 1e-12);
    EXPECT_TRUE(gone_on_otherwise(further, others.front()).empty());
    FurtherFaults either(std::vector<char>(3, 0)); // the fuse or the chip, never both
    const auto& all = further.all();
    either.add(all.front().first(), 0.02, {{{all[0].steps[0], all[0].steps[1]}, 0.5}, {{all[0].steps[0], all[0].steps[2]}, 0.5}});
    either.sort();
    EXPECT_TRUE(gone_on_otherwise(either, spared).empty());
    EXPECT_TRUE(gone_on_otherwise(further, Scenario{{{{2, FaultMode::Dead, {}}, Cause::Root, 0, 0, 0}}, 0.1}).empty());
}
