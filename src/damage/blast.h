// SPDX-License-Identifier: GPL-3.0-or-later
// What a part that bursts does to those around it: splinters and hot gas break them, soot conducts. Only where places are known.
#pragma once
#include "board/board.h"
#include "damage/scenario.h"

#include <optional>
#include <vector>

namespace ohmo {

/// Between two parts; empty where one of the places is not known.
std::optional<double> distance_mm(const Board& board, int a, int b);

/// Whether this fault throws soot about: a wet or solid electrolytic or a varistor that shorts, a switch or chip that shorts with a bulk
/// capacitor behind it.
bool bursts(const Board& board, const Fault& fault);

struct Blast {
    double share = 0; ///< 0 (not reached or not known) to 1 (beside it): exp(-distance / blast-millimetres)
    int from = -1;    ///< the part whose burst reaches it most
    double millimetres = 0;
};
Blast blast_on(const Board& board, const std::vector<Fault>& faults, int part);

/// How much likelier `fault` is beside these. 1 where no blast reaches it or such a fault does not come of one.
double blast_factor(const Blast& blast, const Board& board, const Fault& fault);

/// The step of a further fault in a story that has `faults`: by a blast where that is the likelier reason, else on its own.
Step further_step(const Board& board, const std::vector<Fault>& faults, const Fault& fault);

} // namespace ohmo
