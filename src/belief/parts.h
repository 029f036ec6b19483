// SPDX-License-Identifier: GPL-3.0-or-later
// One part's elements and modes in unknowns. Internal to the model.
#pragma once
#include "belief/model.h"

#include <vector>

namespace ohmo::belief {

/// Elements between nets (not nodes), with unknowns numbered from 0.
struct PartElements {
    Circuit elements; ///< nodes are nets
    std::vector<Unknown> unknowns;
    struct Mode {
        Fault fault;
        double wear;
        std::vector<Override> values;
        bool setting = false; ///< how the part may be made or set: no fault
    };
    std::vector<Mode> modes; ///< without "fine"
};

/// `roots`: the faults of this part with their chances by wear.
PartElements part_elements(const Board& board, const BoardRoles& roles, int part, const std::vector<RootWeight>& roots);

} // namespace ohmo::belief
