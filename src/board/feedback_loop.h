// SPDX-License-Identifier: GPL-3.0-or-later
// What tells a supply how high its output is. A loop that hears too little lets it climb, one that hears too much holds it down: which of
// both a lost part does follows from its place. Dividers are found on the reference pins of shunt references, the feedback pins of chips,
// the adjusting pins of regulators and the bases of error transistors; optocouplers where their diode hangs between outputs, references and
// returns. What only protects (a Zener above the rail) or switches on and off (a diode to a connector) is none of it.
#pragma once
#include "board/board.h"
#include "board/fault.h"
#include "board/power_path.h"

#include <map>
#include <vector>

namespace ohmo {

enum class LoopLoss { None, Climbs, Falls };

struct FeedbackLoop {
    std::vector<int> raises; ///< parts whose loss lets the output climb: optocouplers, references, upper legs, what feeds their diodes
    std::vector<int> lowers; ///< and those whose loss holds it down: lower legs, pull-ups

    std::map<int, std::vector<int>>
        senses; ///< by part: rails that its divider compares; couplers and references, which are in none, for all of them

    bool empty() const { return raises.empty() && lowers.empty(); }
    /// What the fault does to the output. A resistor that drifts up acts as if it opened; a shorted coupler, reference or Zener holds it
    /// down.
    LoopLoss loss(const Board& board, const Fault& fault) const;
    const std::vector<int>& compared(int part) const; ///< see senses; empty for all
};

FeedbackLoop find_feedback_loop(const Board& board, const PowerPath& path);

} // namespace ohmo
