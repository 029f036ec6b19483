// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/cancel.h"
#include "base/result.h"
#include "board/roles.h"
#include "damage/fault_library.h"
#include "damage/further.h"
#include "damage/scenario.h"

#include <set>
#include <string>
#include <vector>

namespace ohmo {

struct EnumerateOptions {
    double mass = 0.999;
    int most = 20000;
    double least_leaf = 1e-4; ///< prior of an ending of a surge below which it is not told apart from its neighbours
};

struct ScenarioSet {
    std::vector<Scenario> scenarios; ///< most probable first; with `reserve` their priors sum to at most 1
    FurtherFaults further;           ///< what may have broken beside a story, with its odds
    double reserve = 0.01;           ///< prior of what is not on the map
    double mass = 0;                 ///< prior that the scenarios cover, of 1 - reserve
};

/// A part and mode that may have failed first, and every way it can go on; their chances sum to 1.
struct RootFault {
    Fault fault;
    double weight = 0; ///< relative
    std::vector<Chain> chains;
};

struct RootFaults {
    std::vector<RootFault> roots;
    double total = 0;           ///< of the weights
    std::vector<char> fed_hard; ///< by part: a short of it draws hard on the source
};

/// Bridge legs are roots of their own; with `each_pair` windings and contacts too. `least_leaf`: as in EnumerateOptions. Errors: Cancelled.
Result<RootFaults> root_chains(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                               const std::set<std::string>& history, double least_leaf, bool each_pair, const CancelToken& cancel);

/// Root faults, the chains they set off (slow sums, then the surge), and independent further faults, best first. Deterministic.
/// Errors: Cancelled.
Result<ScenarioSet> enumerate_scenarios(const Board& board, const BoardRoles& roles, const FaultLibrary& library,
                                        const std::set<std::string>& history, const EnumerateOptions& options, const CancelToken& cancel);

} // namespace ohmo
