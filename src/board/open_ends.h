// SPDX-License-Identifier: GPL-3.0-or-later
// What a traced board still lacks or contradicts, each with the step that mends it where there is one.
#pragma once
#include "board/edit.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

enum class OpenEndKind {
    FreePin,   ///< nobody knows yet where this pin goes
    LonelyNet, ///< a net with one pin, though it has a name
    SidesMeet, ///< a rail hangs together with the mains although parts of a barrier are there
    NoWayBack, ///< nothing joins a rail to its return
    NoInlet,   ///< a board on mains without a part where the mains come in
    NoRails,   ///< parts, and no rail
};

struct OpenEnd {
    OpenEndKind kind = OpenEndKind::FreePin;
    int part = -1;
    std::string pin, net;
    std::string near;                ///< LonelyNet: a net whose name is almost the same
    std::vector<int> way;            ///< SidesMeet: parts from the mains to the rail, one way of several
    std::optional<BoardEdit> repair; ///< a step that mends it
    bool operator==(const OpenEnd&) const = default;
};

/// A board that is being traced, of which so little is known that a fault, or a charge, may well be where nobody has been: no parts, no
/// inlet, no rails, or a rail that nothing feeds. What came from a file is taken for whole.
bool half_traced(const Board& board);

/// Contradictions first, then what is missing, in the order of the parts.
std::vector<OpenEnd> open_ends(const Board& board);

} // namespace ohmo
