// SPDX-License-Identifier: GPL-3.0-or-later
// What is in hand: from where on readings are taken with it, what its leads take off, what is left as it was.
#include "job/bench_line.h"
#include "job/replay.h"
#include "report/wording.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry line(const Job& job, const std::string& text) {
    const auto entry = parse_bench_line(bench_context(replay(job), reader().vocabulary()), text);
    EXPECT_TRUE(entry) << text;
    return entry ? *entry : Entry{};
}

Job logged(Job job, const std::vector<std::string>& lines) {
    for (const auto& text : lines) job = job.with(line(job, text));
    return job;
}

const Observation& seen(const Replay& now, std::size_t from_end = 0) {
    const auto& all = now.evidence.observations;
    return all[all.size() - 1 - from_end];
}

const MeterProfile& taken_with(const Replay& now, const Observation& o) {
    return now.evidence.meters[static_cast<std::size_t>(o.query.meter)];
}

Job bench() { return discharged("rb6-fresh"); }

} // namespace

TEST(MeterInHand, HoldsFromThereOnAndIsWhatIsProposedWith) {
    const Job job = logged(bench(), {"HV PGND ohm 1k9", "meter low-power", "HV PGND ohm 2k", "+24V 0V milliohm 31m", "+24V 0V ohm 3"});
    const auto now = replay(job);
    EXPECT_EQ(now.hand.id, "low-power");
    EXPECT_EQ(now.evidence.meters.front().id, "low-power");
    EXPECT_EQ(taken_with(now, seen(now, 3)).id, "") << "what was read before stays with the meter of then";
    EXPECT_EQ(taken_with(now, seen(now, 2)).id, "low-power");
    EXPECT_EQ(taken_with(now, seen(now, 1)).id, "milliohm") << "a reading may name another";
    EXPECT_EQ(taken_with(now, seen(now)).id, "low-power");
    const auto back = replay(logged(job, {"meter usual"}));
    EXPECT_EQ(back.hand.id, "");
    EXPECT_EQ(back.evidence.meters.front().id, "");
    EXPECT_EQ(taken_with(back, seen(back)).id, "low-power");
}

TEST(MeterInHand, LeadsAreTakenOffWhatItReadsFromThereOn) {
    const Job job = logged(bench(), {"+24V 0V ohm 0.5", "leads 0.2", "+24V 0V ohm 0.5", "+24V 0V ohm 0.1", "+24V 0V milliohm 0.5",
                                     "C5 esr 0.5", "+24V 0V ohm over"});
    const auto now = replay(job);
    const std::vector<double> values = {seen(now, 5).value, seen(now, 4).value, seen(now, 3).value, seen(now, 2).value, seen(now, 1).value};
    EXPECT_DOUBLE_EQ(values[0], 0.5) << "nothing that was read before";
    EXPECT_NEAR(values[1], 0.3, 1e-12);
    EXPECT_EQ(values[2], 0) << "never below nothing";
    EXPECT_DOUBLE_EQ(values[3], 0.5) << "four wires have no leads to take off";
    EXPECT_DOUBLE_EQ(values[4], 0.5) << "an ESR meter nulls by itself";
    EXPECT_TRUE(seen(now).over);
    Entry typed = read("ohms", "+24V", "0V", 1.2);
    EXPECT_NEAR(told(now, typed), 1.0, 1e-12) << "the ruler and the verdict say the same";
    EXPECT_EQ(replay(logged(job, {"meter low-power"})).hand.leads, std::nullopt) << "another meter has leads of its own";
    EXPECT_NEAR(told(replay(logged(job, {"leads 0"})), typed), 1.2, 1e-12);
}

TEST(MeterInHand, TakenBackItWasNeverThere) {
    Job job = logged(bench(), {"leads 0.2", "+24V 0V ohm 0.5"});
    Entry back;
    back.act = Do::Retract;
    back.target = static_cast<int>(job.journal.size()) - 2;
    EXPECT_DOUBLE_EQ(seen(replay(job.with(back))).value, 0.5);
}

TEST(MeterInHand, ATaughtMeterStandsOnceOnTheBench) {
    MeterProfile mine;
    mine.id = "bench-two";
    mine.leads = 0.15;
    const Job job = logged(bench().with_meter(mine), {"leads 0.25", "+24V 0V ohm 0.5", "meter low-power", "+24V 0V ohm 0.5"});
    const auto now = replay(job);
    const auto named =
        std::count_if(now.evidence.meters.begin(), now.evidence.meters.end(), [](const MeterProfile& m) { return m.id == "bench-two"; });
    EXPECT_EQ(named, 1);
    EXPECT_EQ(taken_with(now, seen(now, 1)).id, "bench-two");
    EXPECT_NEAR(seen(now, 1).value, 0.4, 1e-12) << "its profile already counts 0.15 in";
    EXPECT_EQ(taken_with(now, seen(now)).id, "low-power");
    EXPECT_EQ(meters_at_hand(now), (std::vector<std::string>{"usual", "low-power", "milliohm"}));
}

TEST(MeterInHand, AReadingMayNameTheMeterThatIsInHandAnyhow) {
    MeterProfile mine;
    mine.id = "bench-two";
    Entry named = read("ohms", "+24V", "0V", 0.5);
    named.meter = "bench-two";
    const auto now = replay(logged(bench().with_meter(mine), {"leads 0.2"}).with(named));
    EXPECT_NEAR(seen(now).value, 0.3, 1e-12);
    EXPECT_NEAR(told(now, named), 0.3, 1e-12);
    named.meter = "low-power";
    EXPECT_NEAR(told(now, named), 0.5, 1e-12) << "its leads are its own";
}

TEST(MeterInHand, SurvivesTheFile) {
    const Job job = logged(bench(), {"meter milliohm leads 0.01"});
    const auto loaded = reader().parse(job.text());
    ASSERT_TRUE(loaded);
    EXPECT_EQ(replay(loaded->job).hand.id, "milliohm");
    EXPECT_EQ(replay(loaded->job).hand.leads, 0.01);
    EXPECT_EQ(wording::entry(demo_board(), job.journal.back()), "in hand: milliohms, four wires, leads 10.0 mΩ");
}

TEST(MeterInHand, NonsenseIsRefusedWithWhatThereIs) {
    const auto context = bench_context(replay(bench()), reader().vocabulary());
    const auto problem = [&](const std::string& text) {
        const auto entry = parse_bench_line(context, text);
        EXPECT_FALSE(entry) << text;
        return entry ? Problem{} : entry.problem();
    };
    EXPECT_EQ(problem("meter").kind, ProblemKind::Usage);
    EXPECT_EQ(problem("meter nobody").expected, "usual, low-power, milliohm");
    EXPECT_EQ(problem("leads").kind, ProblemKind::Usage);
    EXPECT_EQ(problem("leads two").kind, ProblemKind::UnreadableValue);
    EXPECT_EQ(problem("leads 50").kind, ProblemKind::OutOfRangeValue) << "a broken lead";
    EXPECT_EQ(problem("leads -1").kind, ProblemKind::NegativeValue);
    EXPECT_EQ(complete_bench_line(context, "meter lo"), std::vector<std::string>{"low-power"});
    Entry stranger;
    stranger.act = Do::Meter;
    stranger.meter = "nobody's";
    const auto loaded = reader().parse(bench().with(stranger).text());
    ASSERT_TRUE(loaded);
    ASSERT_FALSE(loaded->warnings.empty());
    EXPECT_EQ(loaded->warnings.back().found, "nobody's");
    EXPECT_EQ(replay(loaded->job).hand.id, "") << "the usual one is taken";
}
