// SPDX-License-Identifier: GPL-3.0-or-later
// A board under power with one fault: what runs, and what its rails give.
#pragma once
#include "damage/figures.h"
#include "support/demo.h"

namespace ohmo::test {

struct SupplyBench {
    explicit SupplyBench(Board b) : board(std::move(b)), roles(find_roles(board)), model(board, roles), figures(board, roles) {}
    explicit SupplyBench(const std::string& of) : SupplyBench(foreign(of).board) {} ///< of tests/support/boards

    Running running(const std::string& by) { return model.judge(faults(board, {by})).running; }
    double volts(std::size_t rail, const std::string& by) {
        const auto with = faults(board, {by});
        return figures.of(with, model.judge(with)).rails[rail].volts;
    }
    double volts(const std::string& rail, const std::string& by) {
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            if (board.rails[r].net == rail) return volts(r, by);
        return -1e9;
    }

    Board board;
    BoardRoles roles;
    BehaviourModel model;
    FiguresModel figures;
};

} // namespace ohmo::test
