// SPDX-License-Identifier: GPL-3.0-or-later
// What can be read of a part: which quantity, with the leads on which of its nets. Internal to the next reading.
#pragma once
#include "board/practice.h"
#include "board/roles.h"
#include "readings/evidence.h"

#include <vector>

namespace ohmo {

struct PartReading {
    Quantity what = Quantity::Ohms;
    NetId red = -1, black = -1;
    double minutes = 0; ///< with the leads at hand
};

/// With the part in its place: every pair of pins of a device of three, each pin of a chip against its ground.
std::vector<PartReading> readings_in_place(const Board& board, const BoardRoles& roles, int part);

/// With the part out: what it is judged by.
std::vector<PartReading> readings_alone(const Board& board, const BoardRoles& roles, int part);

} // namespace ohmo
