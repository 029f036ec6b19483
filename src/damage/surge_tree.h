// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/cancel.h"
#include "base/result.h"
#include "damage/scenario.h"

#include <vector>

namespace ohmo {

/// One way the surge can end, with its chance. The chances of all leaves sum to 1.
struct SurgeLeaf {
    std::vector<Step> damage; ///< in order of happening, the initial faults not included
    double chance = 0;
};

struct SurgeTreeOptions {
    double least_chance = 0.004; ///< what is less likely is not told apart
    int most_runs = 120;
};

/// Branches on every part whose survival is uncertain. A board without bulk capacitor or mains gives one leaf without damage. Errors:
/// Cancelled.
Result<std::vector<SurgeLeaf>> surge_tree(const SurgeBoard& board, const std::vector<Fault>& initial, const SurgeTreeOptions& options,
                                          const CancelToken& cancel);

} // namespace ohmo
