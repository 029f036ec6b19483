// SPDX-License-Identifier: GPL-3.0-or-later
// What is to be read while the unit is on: where the energy stops.
#include "advice/live_acts.h"

#include "board/roles.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Dead; cold it reads as a good one, and with power on its bulk capacitor is charged.
Job cold_proof(const std::string& board) {
    return with_all(discharged(board), {said("dead"), read("ohms", "HV", "PGND", 268e3), read("ohms", "+24V", "0V", 1410),
                                        read("ohms", "+12V", "0V", 621), read("ohms", "+5V", "0V", 163)});
}
Job does_not_start(const std::string& board) { return cold_proof(board).with(live("volts-dc", "HV", "PGND", 322)); }

// Whatever the locks say.
std::vector<NextAct> asked(const Job& job) {
    const auto a = analyse(job);
    belief::Alone alone(a->replay.board, *a->replay.roles);
    return live_acts({a->replay.board, *a->replay.roles, library(), a->assessment, a->replay.evidence}, alone, {});
}

const NextAct* at_net(const Analysis& a, const std::string& red) {
    for (const auto& act : a.live_next)
        if (a.replay.board.net_name(act.query.red) == red) return &act;
    return nullptr;
}

} // namespace

TEST(LiveActs, WhatKeepsTheControllerFromStarting) {
    const auto a = analyse(does_not_start("rb6-fresh"));
    ASSERT_FALSE(a->live_next.empty());
    const NextAct* supply = at_net(*a, "VCC");
    ASSERT_NE(supply, nullptr);
    EXPECT_EQ(supply->query.what, Quantity::VoltsDirect);
    EXPECT_GT(supply->bits, 0.1);
    double sum = 0;
    for (const auto& band : supply->bands) sum += band.p;
    EXPECT_NEAR(sum, 1, 0.1);
    EXPECT_EQ(std::count_if(supply->bands.begin(), supply->bands.end(), [](const Band& b) { return b.healthy; }), 1);
    EXPECT_EQ(at_net(*a, "HV"), nullptr) << "that was read";
}

// What a band promises is what the reading then says.
TEST(LiveActs, ABandKeepsItsPromise) {
    const Job job = does_not_start("rb6-fresh");
    const auto a = analyse(job);
    const NextAct* supply = at_net(*a, "VCC");
    ASSERT_NE(supply, nullptr);
    int told = 0;
    for (const auto& band : supply->bands) {
        if (band.p < 0.05 || band.suspects.empty()) continue;
        const auto [part, p] = band.suspects.front();
        const auto then = analyse(job.with(live("volts-dc", "VCC", "PGND", std::max(0.0, (band.lo + band.hi) / 2))));
        EXPECT_GT(then->assessment.of(part).bad, 0.5 * p) << a->replay.board.part(part).ref;
        EXPECT_EQ(at_net(*then, "VCC"), nullptr) << "once is enough";
        ++told;
    }
    EXPECT_GE(told, 2);
}

TEST(LiveActs, OnlyOnFullPower) {
    const Job on = does_not_start("rb6-fresh");
    EXPECT_FALSE(analyse(on)->live_next.empty());
    Entry off;
    off.act = Do::Discharge;
    off.value = 0.3;
    EXPECT_TRUE(analyse(on.with(off))->live_next.empty());
    Entry lamp;
    lamp.act = Do::PowerStep;
    lamp.step = "lamp";
    lamp.saw = "passed";
    EXPECT_TRUE(analyse(cold_proof("rb6-fresh").with(lamp))->live_next.empty()) << "behind a lamp no figure holds";
    EXPECT_TRUE(analyse(discharged("rb6-fresh").with(said("dead")).with(live("volts-dc", "HV", "PGND", 322)))->live_next.empty())
        << "switched on against the locks: it is to be switched off";
}

// The line of a linear supply, from the inlet to the windings.
TEST(LiveActs, AlongTheLineOfALinearSupply) {
    Entry discharge;
    discharge.act = Do::Discharge;
    discharge.value = 0.1;
    const auto acts = asked(foreign("winder-supply").with(discharge).with(said("dead")).with(live("volts-dc", "+20", "0V", 0.02)));
    ASSERT_FALSE(acts.empty());
    EXPECT_TRUE(std::any_of(acts.begin(), acts.end(),
                            [](const NextAct& act) { return act.query.what == Quantity::VoltsAlternating && act.bits > 0.2; }));
}

TEST(LiveActs, NoneBehindAFuseThatIsKnownToBeOpen) {
    const Job job = discharged("rb6-fresh").with(said("dead")).with(over(alone("ohms", "F1", 0))).with(live("volts-dc", "HV", "PGND", 0.1));
    EXPECT_TRUE(asked(job).empty());
}

// As by the definition, with the densities that the belief itself weighs readings by.
TEST(LiveActs, TheBetterOfTwoPlacesIsNamedFirst) {
    const auto a = analyse(does_not_start("rb6-fresh"));
    for (std::size_t k = 1; k < a->live_next.size(); ++k) EXPECT_GE(a->live_next[k - 1].rate() + 1e-9, a->live_next[k].rate());
    EXPECT_LE(a->live_next.size(), 6u);
}
