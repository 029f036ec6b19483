// SPDX-License-Identifier: GPL-3.0-or-later
// What a short of a part does that switches nothing itself, beside what does. Common practice, no source.
#pragma once
#include "board/roles.h"

namespace ohmo {

struct ShortBeside {
    bool blows_the_fuse = false; ///< across one of a pair of switches: its own short; one of two bulk capacitors in series: all the volts
                                 ///< are left to the other
    bool overloads = false;      ///< what keeps direct current out of the winding: it saturates
};

ShortBeside short_beside(const Board& board, const BoardRoles& roles, int shorted);

} // namespace ohmo
