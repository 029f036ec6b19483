// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/triage.h"

#include "report/triage_wording.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry said(Do what, const std::string& saw) { return act(what, {}, saw); }
Entry check(const std::string& what, const std::string& saw) {
    Entry e = said(Do::Check, saw);
    e.what = what;
    return e;
}
Entry rail(const std::string& net, double volts, const std::string& load) {
    Entry e = read("volts-dc", net, "0V", volts);
    e.powered = "mains";
    e.load = load;
    return e;
}
Entry tried(const std::string& how, const std::string& warm = {}) {
    Entry e = said(Do::Try, how);
    e.what = warm;
    return e;
}
Job complained(const std::string& word) { return discharged("rb6-fresh").with(said(Do::Symptom, word)); }

} // namespace

TEST(Triage, AnOpenLeadAccountsForADeadUnit) {
    const Job job = complained("dead");
    const auto before = analyse(job), after = analyse(with_all(job, {check("plug-fuse", "whole"), check("lead-live", "open")}));
    EXPECT_EQ(before->triage.verdict, Verdict::AtFault);
    EXPECT_EQ(after->triage.verdict, Verdict::Outside);
    EXPECT_EQ(after->triage.cause, Outside::Feed);
    EXPECT_GT(after->assessment.supply_good, 5 * before->assessment.supply_good);
    EXPECT_EQ(after->triage.proved_by.size(), 1U) << "the lead, not the fuse that is whole";
    EXPECT_LT(after->assessment.unexplained, 0.05) << "it is on the map: in the lead";
}

TEST(Triage, AnotherSupplyDecides) {
    const Job job = complained("dead");
    EXPECT_EQ(analyse(job.with(check("other-supply", "works")))->triage.verdict, Verdict::AtFault);
    const auto same = analyse(with_all(job, {check("other-supply", "same"), check("load-off", "comes-up")}));
    EXPECT_EQ(same->triage.verdict, Verdict::Outside);
    EXPECT_EQ(same->triage.cause, Outside::Load);
}

// The plug's fuse blew: it is more likely that something behind it is shorted.
TEST(Triage, ABlownPlugFuseRaisesWhatBlowsFuses) {
    const Job job = complained("dead");
    const auto without = analyse(job), with = analyse(job.with(check("plug-fuse", "blown")));
    EXPECT_GT(bad(*with, "BR1"), 1.5 * bad(*without, "BR1"));
    EXPECT_LT(bad(*with, "R3"), bad(*without, "R3")) << "an open start-up resistor blows nothing";
}

TEST(Triage, WeakUnderLoadIsToldFromTwoReadings) {
    const auto a = analyse(with_all(complained("low-output"), {rail("+24V", 24.1, "idle"), rail("+24V", 17.5, "full")}));
    EXPECT_EQ(a->triage.verdict, Verdict::WeakUnderLoad);
    EXPECT_EQ(a->triage.proved_by.size(), 2U);
    EXPECT_FALSE(a->triage.rails_would_tell);
}

TEST(Triage, RailsThatAreRightUnderLoadAcquitTheSupply) {
    std::vector<Entry> all;
    for (const auto& r : demo_board().rails) all.push_back(rail(r.net, r.volts * 1.01, "full"));
    const auto a = analyse(with_all(complained("load-fault"), all));
    EXPECT_EQ(a->triage.verdict, Verdict::RunsRight);
    EXPECT_EQ(a->triage.proved_by.size(), demo_board().rails.size());
}

TEST(Triage, AnOpenEarthIsAHazardAndNoCause) {
    const Job job = complained("dead");
    const auto before = analyse(job), after = analyse(job.with(check("lead-earth", "open")));
    EXPECT_TRUE(after->triage.earth_open);
    EXPECT_NEAR(after->assessment.supply_good, before->assessment.supply_good, 1e-9);
    EXPECT_NE(wording::verdict_text(after->triage).find("no power"), std::string::npos);
}

TEST(Triage, AnswersOfBeforeARepairAreNotThoseOfAfter) {
    const auto now = replay(with_all(complained("dead"), {check("lead-live", "open"), act(Do::Replace, "C5")}));
    EXPECT_TRUE(now.outside.empty());
    EXPECT_EQ(now.evidence.observations.back().kind, Seen::Outside);
}

TEST(Triage, AWrongAdapterIsHistoryToo) {
    Job job = demo("tm4-ac-fed-split");
    const auto now = replay(job.with(check("adapter", "dc-for-ac")));
    EXPECT_TRUE(now.evidence.history.contains("wrong-adapter"));
    EXPECT_FALSE(check_entry(demo_board(), reader().vocabulary(), check("adapter", "right"), 0).empty()) << "a board on mains has none";
    EXPECT_FALSE(check_entry(job.board, reader().vocabulary(), check("plug-fuse", "blown"), 0).empty());
}

TEST(Triage, TriesBecomeAComplaint) {
    const auto now = replay(with_all(discharged("rb6-fresh"), {tried("fails", "cold"), tried("fails", "cold"), tried("fails", "cold"),
                                                               tried("runs", "warm"), tried("runs", "warm"), tried("runs", "warm")}));
    const auto& last = now.evidence.observations.back();
    EXPECT_EQ(last.kind, Seen::Symptom);
    EXPECT_EQ(last.word, "starts-when-warm");
    ASSERT_EQ(now.tries.size(), 1U);
}

TEST(Triage, TriesAfterARepairAreCountedOnTheirOwn) {
    const Job job = with_all(discharged("rb6-fresh"), {tried("fails"), tried("fails"), tried("runs"), act(Do::Replace, "C9")});
    ASSERT_EQ(replay(job).tries.size(), 2U);
    EXPECT_TRUE(replay(job).tries.back().empty());
    EXPECT_NE(wording::all_tries(shipped_practice(), replay(job).tries).back().find("no try yet"), std::string::npos);
    const auto now = replay(with_all(job, {tried("runs"), tried("runs"), tried("runs")}));
    EXPECT_NE(wording::all_tries(shipped_practice(), now.tries).back().find("3 of 3 good"), std::string::npos);
    const auto back = replay(with_all(job, {tried("runs"), tried("fails")}));
    EXPECT_NE(wording::all_tries(shipped_practice(), back.tries).back().find("not mended"), std::string::npos);
}
