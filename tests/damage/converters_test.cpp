// SPDX-License-Identifier: GPL-3.0-or-later
// Several converters on a board: what stops with one, and what goes on.
#include "damage/converters.h"

#include "damage/figures.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

struct Bench {
    explicit Bench(Board b) : board(std::move(b)), roles(find_roles(board)), model(board, roles), figures(board, roles) {}
    double volts(const std::string& rail, const std::string& by) {
        const auto with = faults(board, {by});
        const auto all = figures.of(with, model.judge(with));
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            if (board.rails[r].net == rail) return all.rails[r].volts;
        return -1e9;
    }
    Board board;
    BoardRoles roles;
    BehaviourModel model;
    FiguresModel figures;
};

} // namespace

// A battery's board: one stage steps up, another beside it down.
TEST(Converters, EachStopsByItself) {
    Bench b(foreign("fence-box").board);
    EXPECT_NEAR(b.volts("+12V", "U1:dead"), 12, 1);
    EXPECT_NEAR(b.volts("+12V", "Q1:open"), 12, 1);
    EXPECT_LT(b.volts("+60V", "U1:dead"), 55) << "no more than the battery gives";
    EXPECT_NEAR(b.volts("+60V", "U2:dead"), 60, 4);
    EXPECT_LT(b.volts("+12V", "U2:dead"), 1);
    EXPECT_EQ(b.model.judge(faults(b.board, {"U1:dead"})).running, Running::NoStart) << "most of what it gives";
    EXPECT_EQ(b.model.judge(faults(b.board, {"U2:dead"})).running, Running::Weak);
}

TEST(Converters, OneIsAll) {
    const Board& board = demo_board();
    const Converters converters(board, find_roles(board));
    EXPECT_EQ(converters.stopped_with(at(board, "U1")), nullptr);
    BehaviourModel model(board, find_roles(board));
    EXPECT_EQ(model.judge(faults(board, {"U1:dead"})).running, Running::NoStart);
}
