// SPDX-License-Identifier: GPL-3.0-or-later
// What an analyst remembers must never outlive what it was computed from.
#include "job/pipeline.h"

#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Analyst analyst() { return *Analyst::make(RealDisk(), data()); }

std::shared_ptr<const Analysis> asked(Analyst& analyst, const Job& job) { return *analyst.analyse(job, {}); }

// A small board: its answer takes milliseconds.
Job small_job() {
    Job job;
    job.board = board(
        {"T1 transformer - P1=A P2=B S1=C S2=0V", "D1 diode 1N4007 A=C K=V", "C1 electrolytic 100u +=V -=0V", "R1 resistor 1k 1=V 2=0V"});
    job.board.rails.push_back({"V", "0V", 12, 0.05, 0.5, *job.board.find_net("V"), *job.board.find_net("0V")});
    job.has_board = true;
    return job.with(read("ohms", "V", "0V", 990));
}

} // namespace

TEST(Pipeline, TheSameBoardIsRemembered) {
    auto a = analyst();
    const auto first = asked(a, small_job());
    EXPECT_EQ(asked(a, small_job().with(read("ohms", "A", "B", 0.4)))->predictor, first->predictor);
}

TEST(Pipeline, EveryFieldOfTheBoardCounts) {
    const std::vector<std::pair<const char*, std::function<void(Board&)>>> edits = {
        {"turns", [](Board& b) { b.parts[0].turns["P1-P2"] = 40; }},
        {"winding_ohms", [](Board& b) { b.parts[0].winding_ohms["S1-S2"] = 3; }},
        {"tolerance", [](Board& b) { b.rails[0].tolerance = 0.2; }},
        {"rail amps", [](Board& b) { b.rails[0].amps = 2; }},
        {"celsius", [](Board& b) { b.parts[2].celsius = 85; }},
        {"esr", [](Board& b) { b.parts[2].esr = 0.5; }},
        {"batch", [](Board& b) { b.parts[2].batch = "7"; }},
        {"place", [](Board& b) { b.parts[2].place = BoardPosition{1, 2}; }},
        {"value", [](Board& b) { b.parts[3].value = "2k"; }},
        {"mains", [](Board& b) { b.mains = Mains{120, 60}; }},
    };
    for (const auto& [name, edit] : edits) {
        auto a = analyst();
        Job job = small_job();
        const auto before = asked(a, job);
        edit(job.board);
        EXPECT_NE(asked(a, job)->predictor, before->predictor) << name;
    }
}

TEST(Pipeline, EverySettingOfAMeterCounts) {
    const std::vector<std::pair<const char*, std::function<void(MeterProfile&)>>> edits = {
        {"diode_amps", [](MeterProfile& m) { m.diode_amps = 5e-4; }},
        {"diode_volts", [](MeterProfile& m) { m.diode_volts = 2; }},
        {"over", [](MeterProfile& m) { m.over = 4e7; }},
        {"farads_hertz", [](MeterProfile& m) { m.farads_hertz = 1000; }},
        {"continuity", [](MeterProfile& m) { m.continuity_ohms = 50; }},
        {"square_ohms", [](MeterProfile& m) { m.square_ohms = 600; }},
        {"ranges", [](MeterProfile& m) { m.ohms[0].amps = 5e-4; }},
    };
    for (const auto& [name, edit] : edits) {
        auto a = analyst();
        Job job = small_job();
        job.meters.emplace_back();
        job.meters.back().id = "mine";
        const auto before = asked(a, job);
        edit(job.meters.back());
        EXPECT_NE(asked(a, job)->predictor, before->predictor) << name;
    }
}

TEST(Pipeline, ARememberedAnswerIsThatOfAFreshOne) {
    auto kept = analyst();
    Job job = small_job();
    (void)asked(kept, job);
    job.board.parts[0].winding_ohms["S1-S2"] = 25;
    job = job.with(read("ohms", "C", "0V", 25));
    auto fresh = analyst();
    const auto a = asked(kept, job), b = asked(fresh, job);
    ASSERT_EQ(a->assessment.parts.size(), b->assessment.parts.size());
    for (std::size_t i = 0; i < a->assessment.parts.size(); ++i) {
        EXPECT_EQ(a->assessment.parts[i].part, b->assessment.parts[i].part);
        EXPECT_EQ(a->assessment.parts[i].bad, b->assessment.parts[i].bad);
    }
}

TEST(Pipeline, HistoryWordsMakeNewHypothesesOnTheSameBoard) {
    auto a = analyst();
    const auto before = asked(a, small_job());
    Entry word;
    word.act = Do::History;
    word.saw = "stored-for-years";
    const auto after = asked(a, small_job().with(word));
    EXPECT_EQ(after->predictor, before->predictor);
    EXPECT_NE(after->assessment.of(2).bad, before->assessment.of(2).bad);
}

TEST(Pipeline, AFuseThatBlewNamesWhatMustBeDealtWithFirst) {
    const auto a = analyse(demo("rb6-half-way"));
    ASSERT_TRUE(a->fuse);
    EXPECT_EQ(a->replay.board.part(a->fuse->fuse).kind, PartKind::Fuse);
    EXPECT_FALSE(a->fuse->because.empty());
    for (int part : a->fuse->because) EXPECT_GT(a->assessment.of(part).bad, 0.5);
    EXPECT_FALSE(analyse(discharged("rb6-fresh"))->fuse);
}

TEST(Pipeline, ExplainedOnlyWhenOneSetStandsOrNothingTells) {
    EXPECT_FALSE(analyse(discharged("rb6-fresh"))->explained);
    const auto a = analyse(demo("rb6-half-way"));
    EXPECT_EQ(a->explained, a->next.stop || a->next.settled);
}
