// SPDX-License-Identifier: GPL-3.0-or-later
// What holds of every advice, on all ten families.
#include "support/demo.h"

#include "report/wording.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

class EveryFamily : public testing::TestWithParam<std::string> {
protected:
    // The demo job as it came in, discharged where that is needed.
    Job job() const {
        Entry low;
        low.act = Do::Discharge;
        low.value = 0.3;
        return demo(GetParam()).with(low);
    }
    // Made once a family.
    const Analysis& first() const {
        static std::map<std::string, std::shared_ptr<const Analysis>> known;
        auto& a = known[GetParam()];
        if (!a) a = analyse(job());
        return *a;
    }
};

} // namespace

TEST_P(EveryFamily, AdviceIsSortedPricedAndWorded) {
    const Analysis* a = &first();
    ASSERT_FALSE(a->next.acts.empty());
    EXPECT_FALSE(a->next.stop);
    for (std::size_t i = 0; i < a->next.acts.size(); ++i) {
        const auto& act = a->next.acts[i];
        EXPECT_GT(act.bits, 0);
        EXPECT_GT(act.minutes, 0);
        if (i > 0) EXPECT_GE(a->next.acts[i - 1].rate() + 1e-9, act.rate());
        EXPECT_FALSE(wording::act_title(a->replay.board, act).empty());
        ASSERT_FALSE(act.bands.empty());
        double p = 0;
        for (const auto& band : act.bands) {
            p += band.p;
            if (act.act == Act::Read && !band.over) EXPECT_LE(band.lo, band.hi);
        }
        EXPECT_GT(p, 0.9);
        EXPECT_LT(p, 1.001);
    }
}

TEST_P(EveryFamily, ProbabilitiesAddUp) {
    const Analysis* a = &first();
    double exactly = a->assessment.unexplained;
    for (const auto& story : a->assessment.stories) exactly += story.p;
    EXPECT_LT(exactly, 1.001);
    for (const auto& part : a->assessment.parts) {
        double modes = 0;
        for (const auto& [mode, p] : part.modes) modes += p;
        EXPECT_NEAR(std::min(modes, 1.0), part.bad, 0.02) << a->replay.board.part(part.part).ref;
    }
}

TEST_P(EveryFamily, SameJobSameAnswer) {
    const Analysis* a = &first();
    auto fresh = Analyst::make(RealDisk(), data());
    ASSERT_TRUE(fresh);
    const auto b = fresh->analyse(job(), {});
    ASSERT_TRUE(b);
    ASSERT_EQ(a->next.acts.size(), (*b)->next.acts.size());
    for (std::size_t i = 0; i < a->next.acts.size(); ++i) {
        EXPECT_EQ(a->next.acts[i].part, (*b)->next.acts[i].part);
        EXPECT_EQ(a->next.acts[i].bits, (*b)->next.acts[i].bits);
    }
    for (std::size_t i = 0; i < a->assessment.parts.size(); ++i) EXPECT_EQ(a->assessment.parts[i].bad, (*b)->assessment.parts[i].bad);
}

// Two healthy readings of a part that was under suspicion never make it more suspect.
TEST_P(EveryFamily, HealthyReadingsAcquit) {
    const Analysis* before = &first();
    const auto& board = before->replay.board;
    for (const auto& belief : before->assessment.parts) {
        const auto& part = board.part(belief.part);
        if (belief.bad < 0.02 || part.kind != PartKind::Electrolytic) continue;
        const auto net = expand_part(board, belief.part, {});
        auto esr = read_part("esr", part.ref, net.capacitors.front().esr);
        esr.lifted = true;
        auto ohm = read_part("ohms", part.ref, 0);
        ohm.lifted = true;
        ohm.value.reset();
        ohm.over = true;
        EXPECT_LT(bad(*analyse(job().with(esr).with(ohm)), part.ref), belief.bad + 1e-6) << part.ref;
        return;
    }
}

// The likeliest story of the demo's complaint carries its sums: no step of a chain without a figure against a limit, but for what only the
// trade knows.
TEST_P(EveryFamily, StepsCarryTheirSums) {
    const Analysis* a = &first();
    for (const auto& story : a->assessment.stories)
        for (const auto& step : story.scenario.steps) {
            if (step.cause == Cause::Root || step.cause == Cause::Independent || step.cause == Cause::Companion) continue;
            EXPECT_GT(step.value, 0) << cause_name(step.cause);
            EXPECT_GT(step.limit, 0) << cause_name(step.cause);
        }
}

TEST_P(EveryFamily, PlanAndLadderStandBehindTheirLocks) {
    const Analysis* a = &first();
    EXPECT_TRUE(a->ladder.locked); // nothing has been proven yet
    EXPECT_FALSE(a->ladder.steps.empty());
    for (const auto& act : a->next.acts) EXPECT_NE(act.act, Act::Substitute);
}

INSTANTIATE_TEST_SUITE_P(Families, EveryFamily,
                         testing::Values("sw3-flyback-integrated", "bd2-self-oscillating", "tl12-half-bridge", "fd1-linear", "gl1-adapter",
                                         "tm4-ac-fed-split", "cr8-buck", "rb6-rail", "fc1-inverter"),
                         [](const auto& each) {
                             std::string name = each.param;
                             std::replace(name.begin(), name.end(), '-', '_');
                             return name;
                         });
