// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/live_check.h"

#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

TEST(Step, NamesRoundTripAndOldOnesAreRead) {
    for (const StepId id : {StepId{StepKind::ColdProof}, StepId{StepKind::Controller}, StepId{StepKind::RailsBackFed},
                            StepId{StepKind::LowSupply}, StepId{StepKind::Lamp}, StepId{StepKind::VariableTransformer, 105},
                            StepId{StepKind::FullNoLoad}, StepId{StepKind::Load, 25}, StepId{StepKind::Soak}, StepId{StepKind::Function}})
        EXPECT_EQ(step_named(step_text(id)), id) << step_text(id);
    EXPECT_EQ(step_named("variac-100"), (StepId{StepKind::VariableTransformer, 100}));
    for (const char* text : {"", "lamp2", "load-", "load-x", "load-25x", "transformer--5", "soaks"}) EXPECT_FALSE(step_named(text)) << text;
}

TEST(Step, MainsIsKnown) {
    for (auto kind : {StepKind::Lamp, StepKind::VariableTransformer, StepKind::FullNoLoad, StepKind::Load, StepKind::Soak})
        EXPECT_TRUE(on_mains(kind));
    for (auto kind : {StepKind::ColdProof, StepKind::Controller, StepKind::RailsBackFed, StepKind::LowSupply}) EXPECT_FALSE(on_mains(kind));
}

namespace {

Ladder ladder() {
    Ladder out;
    out.steps.push_back({{StepKind::ColdProof}, {}, {}, false, StepState::Passed});
    out.steps.push_back(
        {{StepKind::Lamp}, {}, {{"+24V", "V", 24, 22.8, 25.2}, {"mains-current", "A", 0.1, 0.03, 0.2}}, true, StepState::Current});
    out.under_way = 1;
    return out;
}

} // namespace

TEST(LiveCheck, TheLastReadingInTheStepDecides) {
    EXPECT_FALSE(live_check(ladder(), {}).must_stop());
    EXPECT_FALSE(live_check(ladder(), {{"+24V", "V", 24.1}}).must_stop());
    EXPECT_TRUE(live_check(ladder(), {{"+24V", "V", 24.1}, {"+24V", "V", 31}}).must_stop());
    EXPECT_FALSE(live_check(ladder(), {{"+24V", "V", 31}, {"+24V", "V", 24.1}}).must_stop());
    EXPECT_TRUE(live_check(ladder(), {{"mains-current", "A", 0.3}}).must_stop());
    EXPECT_FALSE(live_check(ladder(), {{"+12V", "V", 99}, {"+24V", "A", 99}}).must_stop()); // no figure of this step
}

TEST(LiveCheck, EdgesAreInside) {
    EXPECT_FALSE(live_check(ladder(), {{"+24V", "V", 22.8}}).must_stop());
    EXPECT_FALSE(live_check(ladder(), {{"+24V", "V", 25.2}}).must_stop());
    EXPECT_TRUE(live_check(ladder(), {{"+24V", "V", 25.3}}).must_stop());
}

TEST(LiveCheck, NothingIsCheckedWhenEveryStepHasPassed) {
    Ladder done = ladder();
    done.under_way = 2;
    EXPECT_TRUE(live_check(done, {{"+24V", "V", 99}}).figures.empty());
}

TEST(LiveCheck, ReplayCountsReadingsFromTheLastStepOn) {
    Job job = demo("rb6-half-way");
    Entry volts = read("volts-dc", "+24V", "0V", 31);
    volts.powered = "mains";
    EXPECT_EQ(replay(job.with(volts)).live_readings.size(), 1u);
    EXPECT_EQ(replay(job.with(volts)).live_readings.front().where, "+24V");
    Entry step;
    step.act = Do::PowerStep;
    step.step = "lamp";
    step.saw = "passed";
    EXPECT_TRUE(replay(job.with(volts).with(step)).live_readings.empty());
    EXPECT_TRUE(replay(job.with(read("volts-dc", "HV", "PGND", 3))).live_readings.empty()); // off
}
