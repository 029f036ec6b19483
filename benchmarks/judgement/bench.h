// SPDX-License-Identifier: GPL-3.0-or-later
// The simulated bench: a board with a hidden fault, parts drawn within their tolerances, a meter with noise and leads, looks that mislead.
#pragma once
#include "advice/next_reading.h"
#include "job/job.h"
#include "truths.h"

#include <set>

namespace ohmo::judgement {

/// Where the board on the bench is another than the program thinks.
struct Differences {
    std::set<int> absent, moved; ///< not fitted; fitted between other nets
    bool at(int part) const { return absent.contains(part) || moved.contains(part); }
};

class Bench {
public:
    /// `asked`: the board as the program knows it; `real`: as it lies on the bench, the same parts in the same order on the same nets.
    Bench(const Board& asked, Board real, Truth truth, unsigned seed, Differences differences = {});

    /// What a look at an assumed part tells: not there, or how it looks.
    Entry trace(int part);

    const Truth& truth() const { return m_truth; }
    Entry answer(const NextAct& act);

private:
    Entry read(const Query& query);
    std::string look(const Fault* fault);
    Netlist drawn(const BoardState& state) const;
    double normal() { return std::normal_distribution<double>()(m_random); }
    bool chance(double p) { return std::uniform_real_distribution<double>()(m_random) < p; }

    const Board& m_asked;
    Board m_real;
    Truth m_truth;
    unsigned m_seed;
    std::mt19937 m_random;
    Differences m_differences;
};

} // namespace ohmo::judgement
