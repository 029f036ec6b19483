// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/outside.h"

#include "readings/tries.h"
#include "support/demo.h"

#include <fmt/format.h>

#include <numeric>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Board& mains_board() { return demo_board(); }

Try tried(Tried how, std::optional<bool> warm = {}, std::optional<double> seconds = {}) { return {0, how, warm, seconds}; }

} // namespace

TEST(Outside, AnswersOfACheckAddUpToOneWhateverIsWrong) {
    for (const auto& check : outside_checks()) {
        if (check.id == "lead-earth") continue; // says nothing of the complaint, whatever it is
        std::array<double, kOutsides + 3> sum{};
        for (const auto answer : check.answers) {
            EXPECT_TRUE(shipped_practice().outside.contains(fmt::format("{} {}", check.id, answer))) << check.id << " " << answer;
            const auto c = answer_chances(shipped_practice(), check.id, answer);
            for (std::size_t k = 0; k < kOutsides; ++k) sum[k] += c.outside[k];
            sum[kOutsides] += c.board;
            sum[kOutsides + 1] += c.shorting;
            sum[kOutsides + 2] += c.itself;
        }
        for (double s : sum)
            if (s > 0) EXPECT_NEAR(s, 1, 0.011) << check.id;
    }
}

// Bayes by hand: what stands outside against the board is multiplied by the ratio of the answer's chances.
TEST(Outside, HearingIsBayes) {
    const Practice& p = shipped_practice();
    OutsideOdds odds(mains_board(), p.unexplained_complaint);
    EXPECT_NEAR(odds.all(), p.outside_feed + p.outside_load, 1e-12);
    EXPECT_EQ(odds.weight(Outside::Adapter), 0) << "it has mains of its own";
    EXPECT_NEAR(odds.itself(), p.unexplained_complaint, 1e-12);
    odds.hear("lead-live", "open");
    const auto c = answer_chances(p, "lead-live", "open");
    EXPECT_NEAR(odds.weight(Outside::Feed), p.outside_feed * c.outside[0] / std::max(c.board, c.shorting), 1e-9);
    EXPECT_GT(odds.weight(Outside::Feed), 100 * odds.weight(Outside::Load));
    odds.hear("plug-fuse", "whole");
    const auto f = answer_chances(p, "plug-fuse", "whole");
    EXPECT_NEAR(odds.weight(Outside::Feed),
                p.outside_feed * c.outside[0] * f.outside[0] / std::max(c.board * f.board, c.shorting * f.shorting), 1e-9);
}

TEST(Outside, ABlownPlugFuseSpeaksForAShort) {
    OutsideOdds odds(mains_board(), 0.003);
    odds.hear("plug-fuse", "blown");
    EXPECT_EQ(odds.board_factor(true), 1);
    EXPECT_LT(odds.board_factor(false), 0.1);
}

TEST(Outside, OnlyWhatIsThereIsAsked) {
    const Board low = board({"C1 electrolytic 100u +=VIN -=0V"});
    for (const auto& check : outside_checks()) {
        EXPECT_EQ(asked_of(check, mains_board()), check.id != "adapter") << check.id;
        EXPECT_EQ(asked_of(check, low), !check.mains) << check.id;
    }
}

TEST(Outside, BitsAreWhatIsLearnedOnAverage) {
    OutsideOdds odds(mains_board(), 0.003);
    const std::array<double, kOutsides> open = {0.2, 0, 0.2}, settled = {0, 0, 0};
    for (const auto& check : outside_checks()) {
        EXPECT_GE(odds.bits(check, open), 0) << check.id;
        EXPECT_LT(odds.bits(check, open), 1.6) << check.id;
        EXPECT_NEAR(odds.bits(check, settled), 0, 1e-9) << check.id;
    }
    EXPECT_NEAR(odds.bits(*outside_check("lead-earth"), open), 0, 1e-9) << "a matter of safety, not of the complaint";
    EXPECT_GT(odds.bits(*outside_check("other-supply"), open), odds.bits(*outside_check("between-cores"), open));
}

TEST(Tries, NothingIsSaidOfTwo) { EXPECT_EQ(trend_of(shipped_practice(), {tried(Tried::Fails), tried(Tried::Runs)}).word, ""); }

TEST(Tries, StartsWhenWarm) {
    std::vector<Try> tries(4, tried(Tried::Fails, false));
    tries.insert(tries.end(), 4, tried(Tried::Runs, true));
    const TryTrend t = trend_of(shipped_practice(), tries);
    EXPECT_EQ(t.word, "starts-when-warm");
    // Flat beforehand, 4 of 4 against 0 of 4: P(p1 > p2) = 1 - 1/C(10,5) = 251/252, a known closed form of two Beta rates.
    EXPECT_NEAR(t.warm_better, 251.0 / 252, 2e-4);
    EXPECT_EQ(t.cold_starts, 0);
    EXPECT_EQ(t.warm_starts, 4);
}

TEST(Tries, DiesSooner) {
    std::vector<Try> tries;
    for (double minutes : {9, 8, 6, 5, 3}) tries.push_back(tried(Tried::Dies, {}, minutes * 60));
    const TryTrend t = trend_of(shipped_practice(), tries);
    EXPECT_EQ(t.word, "dies-after-minutes");
    EXPECT_GT(t.shorter, 0.97); // five in falling order: 1 of 120 by luck
    std::reverse(tries.begin(), tries.end());
    EXPECT_LT(trend_of(shipped_practice(), tries).shorter, 0.03);
}

TEST(Tries, HowManyProveARepair) {
    std::vector<Try> tries(7, tried(Tried::Fails));
    tries.insert(tries.end(), 3, tried(Tried::Runs));
    const TryTrend often = trend_of(shipped_practice(), tries);
    ASSERT_TRUE(often.to_prove);
    EXPECT_LE(luck_of(often, *often.to_prove), 0.05);
    EXPECT_GT(luck_of(often, *often.to_prove - 1), 0.05);
    tries.assign(9, tried(Tried::Runs));
    tries.push_back(tried(Tried::Fails));
    const TryTrend seldom = trend_of(shipped_practice(), tries);
    ASSERT_TRUE(seldom.to_prove);
    EXPECT_GT(*seldom.to_prove, 3 * *often.to_prove) << "the rarer the fault, the longer the proof";
    EXPECT_FALSE(trend_of(shipped_practice(), {tried(Tried::Runs)}).to_prove);
}
