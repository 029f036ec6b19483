// SPDX-License-Identifier: GPL-3.0-or-later
// What an act of the program comes to in the journal, and that replay reads it back as the same place.
#include "support/demo.h"

#include "job/act_entries.h"
#include "job/replay.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Board& inverter() {
    static const Job job = demo("fc1-inverter");
    return job.board;
}

NextAct reading(const Query& query, std::vector<int> to_lift = {}) {
    return {.act = Act::Read, .query = query, .part = query.alone, .to_lift = std::move(to_lift)};
}

Query between(Quantity what, const char* red, const char* black) {
    return {what, *inverter().find_net(red), *inverter().find_net(black), -1, {}, 0};
}

} // namespace

TEST(ActEntries, QuantitiesHaveTheirWords) {
    for (auto q :
         {Quantity::Ohms, Quantity::Diode, Quantity::Continuity, Quantity::Farads, Quantity::Esr, Quantity::Leakage, Quantity::Residue})
        EXPECT_EQ(quantity_named(quantity_name(q)), q);
    EXPECT_FALSE(quantity_named("volts-dc"));
    EXPECT_FALSE(quantity_named(""));
}

TEST(ActEntries, AReadingNamesItsNetsOrThePartAndItsPins) {
    const Board& b = inverter();
    const Entry nets = reading_entry(b, {MeterProfile{}}, between(Quantity::Farads, "BAT", "0V"));
    EXPECT_EQ(nets.what, "farads");
    EXPECT_EQ(nets.from, "BAT");
    EXPECT_EQ(nets.to, "0V");
    EXPECT_TRUE(nets.part.empty() && nets.meter.empty() && !nets.lifted && !nets.value);
    Query alone = between(Quantity::Diode, "HGND", "HS1");
    alone.alone = at(b, "D4");
    const Entry lifted = reading_entry(b, {MeterProfile{}}, alone);
    EXPECT_EQ(lifted.part, "D4");
    EXPECT_EQ(lifted.pins, (std::vector<std::string>{"A", "K"}));
    EXPECT_TRUE(lifted.lifted && lifted.from.empty());
}

TEST(ActEntries, FourWiresNameTheirMeter) {
    Query fine = between(Quantity::Ohms, "BAT", "0V");
    fine.meter = 1;
    EXPECT_EQ(reading_entry(inverter(), {MeterProfile{}, milliohm_meter()}, fine).meter, milliohm_meter().id);
}

TEST(ActEntries, WhatComesOutIsWrittenDownFirst) {
    const Board& b = inverter();
    const auto lifts = act_entries(b, {}, reading(between(Quantity::Ohms, "BAT", "0V"), {at(b, "C1"), at(b, "Q1")}));
    ASSERT_EQ(lifts.before.size(), 2u);
    EXPECT_EQ(lifts.before[1].act, Do::Lift);
    EXPECT_EQ(lifts.before[1].part, "Q1");
    EXPECT_TRUE(lifts.after.empty());
    Query alone = between(Quantity::Esr, "BAT", "0V");
    alone.alone = at(b, "C1");
    EXPECT_TRUE(act_entries(b, {}, reading(alone, {at(b, "C1")})).before.empty()); // it says so itself
}

TEST(ActEntries, AConnectorIsPluggedAgain) {
    const Board& b = inverter();
    NextAct pull = reading(between(Quantity::Ohms, "BAT", "0V"));
    pull.act = Act::Pull;
    pull.part = at(b, "J2");
    const auto entries = act_entries(b, {}, pull);
    ASSERT_EQ(entries.before.size(), 1u);
    ASSERT_EQ(entries.after.size(), 1u);
    EXPECT_EQ(entries.before[0].act, Do::Pull);
    EXPECT_EQ(entries.after[0].act, Do::Plug);
    Entry outcome = entries.asked;
    outcome.value = 12.0;
    const Job done = with_act(discharged("fc1-inverter"), entries, outcome);
    const Replay now = replay(done);
    ASSERT_EQ(now.evidence.observations.size(), 1u);
    EXPECT_TRUE(now.evidence.observations[0].query.state.is_pulled(pull.part));
    EXPECT_FALSE(now.evidence.state.is_pulled(pull.part));
}

TEST(ActEntries, OtherActsAreAboutTheirPart) {
    const Board& b = inverter();
    for (const auto& [act, done] : {std::pair{Act::Look, Do::Look}, {Act::Substitute, Do::Substitute}, {Act::Cool, Do::Cool}}) {
        NextAct next = reading({});
        next.act = act;
        next.part = at(b, "Q3");
        const auto entries = act_entries(b, {}, next);
        EXPECT_EQ(entries.asked.act, done);
        EXPECT_EQ(entries.asked.part, "Q3");
        EXPECT_TRUE(entries.before.empty() && entries.after.empty());
    }
}

// Every reading that is offered on every demo board comes back from the journal as the place it was asked for.
TEST(ActEntries, ReplayReadsThePlaceBack) {
    std::size_t compared = 0;
    for (const char* name : {"rb6-fresh", "fc1-inverter", "cr8-buck", "rb6-rail"}) {
        const Job job = discharged(name);
        const auto a = analyse(job);
        for (const auto& act : a->next.acts) {
            if (act.act != Act::Read) continue;
            const auto entries = act_entries(a->replay.board, a->replay.evidence.meters, act);
            Entry outcome = entries.asked;
            outcome.value = 1.0;
            EXPECT_TRUE(check_entry(a->replay.board, reader().vocabulary(), outcome, job.journal.size()).empty());
            const Replay now = replay(with_act(job, entries, outcome));
            ASSERT_FALSE(now.evidence.observations.empty());
            const auto& query = now.evidence.observations.back().query;
            EXPECT_EQ(query.what, act.query.what);
            EXPECT_EQ(query.red, act.query.red);
            EXPECT_EQ(query.black, act.query.black);
            EXPECT_EQ(query.alone, act.query.alone);
            EXPECT_EQ(query.meter, act.query.meter);
            ++compared;
        }
    }
    EXPECT_GT(compared, 10u);
}
