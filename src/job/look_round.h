// SPDX-License-Identifier: GPL-3.0-or-later
// The look round: every part once, from the fuse to the rails, before any reading.
#pragma once
#include "damage/fault_library.h"
#include "job/replay.h"

#include <map>
#include <string>
#include <vector>

namespace ohmo {

struct LookStop {
    int part = -1;
    std::string stage; ///< empty for parts without one
    std::string seen;  ///< the look on record, empty while there is none
};

/// In working order: stages as energy passes them, parts as the board lists them. Parts that are not fitted are left out.
std::vector<LookStop> look_round(const Replay& now);

/// Looks worth telling of a kind: "fine", then what its faults look like, the commonest first, then what any part may show. Nine at most.
std::vector<std::string> looks_of(const FaultLibrary& library, PartKind kind);

using LooksByKind = std::map<PartKind, std::vector<std::string>>;
LooksByKind looks_by_kind(const FaultLibrary& library); ///< of every kind there is

} // namespace ohmo
