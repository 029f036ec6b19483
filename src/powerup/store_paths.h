// SPDX-License-Identifier: GPL-3.0-or-later
// Every capacitor that can hurt, and what empties it when the plug is pulled.
#pragma once
#include "powerup/decay.h"

#include <vector>

namespace ohmo {

struct StorePath {
    Store store;
    NetId plus = -1, minus = -1;
    double tau = 0;           ///< seconds, through what the board has across it; infinite where nothing takes it down
    std::vector<int> through; ///< parts that carry most of that, the heaviest first
    bool main = false;        ///< the reservoir of the mains side or a half of it: what opens the cold readings
    bool hazardous() const { return store.volts >= hazard_volts(); }
};

/// charged_stores() with their ways out, by one solve of the healthy board each.
std::vector<StorePath> store_paths(const Board& board, const BoardRoles& roles);

} // namespace ohmo
