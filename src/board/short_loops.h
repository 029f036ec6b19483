// SPDX-License-Identifier: GPL-3.0-or-later
// Which shorts draw their current through one place: a fuse, a winding.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

struct ShortLoops {
    /// A short from a net of `fed` to one of `back` draws its current through the place; by net.
    struct Loop {
        std::vector<char> fed, back;
    };
    std::vector<Loop> loops{}; ///< of a winding one for each half wave
    std::vector<char> at{};    ///< nets right at a winding's ends: a rectifier there that shorts joins two half waves

    bool closed_by(const Board& board, const Fault& fault) const;
};

} // namespace ohmo
