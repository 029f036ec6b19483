// SPDX-License-Identifier: GPL-3.0-or-later
// What stops one rail and leaves the others: a fuse of its own, a short behind its regulator, a winding or the way back that is open.
#include "damage/melted.h"

#include "board/roles.h"
#include "damage/figures.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class DyePump : public ::testing::Test {
protected:
    Behaviour judge(const std::vector<std::string>& by) { return model.judge(faults(board, by)); }
    double volts(const std::string& rail, const std::vector<std::string>& by) {
        const auto with = faults(board, by);
        const auto all = figures.of(with, model.judge(with));
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            if (board.rails[r].net == rail) return all.rails[r].volts;
        return -1e9;
    }
    void only(const std::string& dead, const std::string& by) {
        for (const auto& rail : board.rails) {
            const double is = std::fabs(volts(rail.net, {by})), was = std::fabs(rail.volts);
            EXPECT_TRUE(rail.net == dead ? is < 0.2 * was : is > 0.6 * was) << by << " leaves " << rail.net << " at " << is;
        }
        EXPECT_EQ(judge({by}).running, Running::Weak) << by << ": the unit runs, but not all of it";
    }

    const Board board = foreign("dye-pump").board;
    const BoardRoles roles = find_roles(board);
    BehaviourModel model{board, roles};
    FiguresModel figures{board, roles};
};

} // namespace

TEST_F(DyePump, AFuseOfItsOwnTakesOneRailAway) {
    for (const char* by : {"F2:open", "BR3:short@~1+", "BR3:short@~2-", "C8:short"}) only("+24V", by);
    const auto melted = melt_branch_fuses(board, roles.branch_fuses, faults(board, {"BR3:short@~1+", "C1:dry"}));
    EXPECT_TRUE(melted.any);
    EXPECT_EQ(melted.faults, faults(board, {"C1:dry", "F2:open"})) << "behind it nothing is felt";
    EXPECT_FALSE(melt_branch_fuses(board, roles.branch_fuses, faults(board, {"BR1:short@~1+"})).any);
    EXPECT_EQ(judge({"BR1:short@~1+"}).running, Running::BlowsFuse) << "that is the fuse of the mains";
    EXPECT_TRUE(judge({"C8:short"}).violent) << "a burst is heard whatever the fuse does";
}

TEST_F(DyePump, AShortBehindARegulatorIsItsRailsAlone) {
    only("+15V", "C3:short");
    only("-15V", "C4:short");
    only("+5V", "U3:output-short");
    EXPECT_EQ(judge({"C3:short", "C4:short", "C7:short", "F2:open"}).running, Running::NoStart) << "nothing is left";
}

TEST_F(DyePump, AWindingFeedsWithBothItsEnds) {
    only("+24V", "T1:open@S7-S8");
    only("+5V", "T1:open@S5-S6");
    EXPECT_EQ(judge({"T1:open@P1-P2"}).running, Running::NoStart);
    const auto whole = roles.path.rails({});
    for (const auto& feed : whole) EXPECT_EQ(feed.whole, 2) << "two half waves each";
    const auto half = roles.path.rails(faults(board, {"T1:open@S1-S2"}));
    EXPECT_EQ(half[0].left, 1) << "the other half of a tapped winding goes on";
    EXPECT_EQ(half[1].left, 1);
    const auto leg = roles.path.rails(faults(board, {"BR3:open@~1+"}));
    EXPECT_EQ(leg[3].left, 1);
    EXPECT_EQ(roles.path.rails(faults(board, {"BR3:open@~1+", "BR3:open@~1-"}))[3].left, 0) << "nothing comes back";
}

// A converter that steps up and stands still lets its input through: less than there should be, and more than nothing.
TEST(StepUp, StandsAtItsInput) {
    const Board board = foreign("fence-box").board;
    const BoardRoles roles = find_roles(board);
    BehaviourModel model(board, roles);
    FiguresModel figures(board, roles);
    const auto volts = [&](std::size_t rail, const std::vector<std::string>& by) {
        const auto with = faults(board, by);
        return figures.of(with, model.judge(with)).rails[rail];
    };
    EXPECT_NEAR(volts(0, {"U1:dead"}).volts, 30, 15);
    EXPECT_LT(std::fabs(volts(0, {"F1:open"}).volts), 1);
    EXPECT_LT(std::fabs(volts(0, {"U1:dead", "D2:open"}).volts), 1) << "and what lets it through is open";
    EXPECT_LT(std::fabs(volts(1, {"U2:dead"}).volts), 1) << "one that steps down lets nothing through";
}

// On a converter a shorted rail stops everything, as it did.
TEST(ShortedRails, AConverterStopsForAny) {
    const Board& board = demo_board();
    BehaviourModel model(board, find_roles(board));
    EXPECT_EQ(model.judge(faults(board, {"C18:short"})).running, Running::Hiccup);
}
