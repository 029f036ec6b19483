// SPDX-License-Identifier: GPL-3.0-or-later
// What a capacitor without a value is likely to be, by its kind and where it stands. Internal to what parts are taken for.
#pragma once
#include "board/taken_resistors.h"

namespace ohmo {

/// `roles` of the board.
Taken taken_capacitor(const Board& board, const BoardRoles& roles, int part);

} // namespace ohmo
