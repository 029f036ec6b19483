// SPDX-License-Identifier: GPL-3.0-or-later
// What pulls a rail down, along the tree by which its current is handed out: tracks, connectors, chokes, fuses, sense resistors. The chance
// of a short is summed over what hangs at each place, and the leads halve it.
#pragma once
#include "job/pipeline.h"

#include <optional>
#include <vector>

namespace ohmo {

struct HuntPlace {
    NetId net = -1;
    int via = -1;   ///< the part that leads here from the place above; -1 at the source
    int above = -1; ///< index of that place
    int depth = 0;
    std::vector<std::pair<int, double>> hangs; ///< parts at this place and how likely each is what pulls it down, likeliest first
    double here = 0, beyond = 0;               ///< of the whole chance: at this place; here and farther out
    std::optional<double> ohms;                ///< the last cold reading to the return since the board was last changed
    bool red = false, black = false;           ///< where the next reading puts its leads
};

struct Hunt {
    int rail = -1;
    double shorted = 0;            ///< chance that anything hangs on it that conducts as it should not
    std::vector<HuntPlace> places; ///< from the source outwards, each branch after the place it leaves from
    int likeliest() const;         ///< of what hangs on it; -1 where nothing does
    const NextAct* next = nullptr; ///< with both leads on these places or the return, else on what hangs there; of the analysis
};

/// The rails with what is likeliest to be pulled down first.
std::vector<int> rails_by_suspicion(const Analysis& analysis);
Hunt hunt(const Analysis& analysis, int rail);

} // namespace ohmo
