// SPDX-License-Identifier: GPL-3.0-or-later
// Hidden faults for the judgement bench. Their odds and chains are written down here, by family of supply; nothing is taken from the
// scenario enumerator or the fault library.
#pragma once
#include "board/board.h"

#include <functional>
#include <random>
#include <set>
#include <string>
#include <vector>

namespace ohmo::judgement {

struct Truth {
    std::vector<Fault> faults; ///< the root first
    std::set<int> roots;       ///< parts that started it: two unrelated ones, or either switch of a pair that died together
    bool outside = false;      ///< two unrelated roots
    std::vector<std::string> symptoms, history;
};

class Generator {
public:
    /// Two unrelated roots in one game of eight, or in every one.
    Generator(const Board& board, unsigned seed, bool two_roots = false) : m_board(board), m_random(seed), m_two_roots(two_roots) {}
    Truth draw();

private:
    using Recipe = std::function<void(Truth&)>;
    void recipes(std::vector<std::pair<double, Recipe>>& out);
    void offline(std::vector<std::pair<double, Recipe>>& out);
    void line_fed(std::vector<std::pair<double, Recipe>>& out);
    void low_voltage(std::vector<std::pair<double, Recipe>>& out);
    void root(Truth& t);

    using Wanted = std::function<bool(const Part&)>;
    int any(const Wanted& wanted);
    std::vector<int> all(const Wanted& wanted) const;
    bool chance(double p) { return std::uniform_real_distribution<double>()(m_random) < p; }
    void add(Truth& t, int part, FaultMode mode, const std::string& place = {});
    void fuse(Truth& t, double p);
    void switch_goes(Truth& t, int which);
    /// Adds `weight` for a recipe that breaks one of the parts wanted; nothing when there are none.
    void one(std::vector<std::pair<double, Recipe>>& out, double weight, const Wanted& wanted, FaultMode mode, const std::string& symptom,
             const std::string& place = {});

    const Board& m_board;
    std::mt19937 m_random;
    bool m_two_roots;
};

} // namespace ohmo::judgement
