// SPDX-License-Identifier: GPL-3.0-or-later
// A reading between two islands. Nothing that was entered of the board joins its places, unless a part that keeps them apart has broken
// through: what reads there all the same hangs on a part or a track that nobody has traced yet.
#pragma once
#include "belief/model.h"
#include "belief/network.h"
#include "readings/evidence.h"

#include <optional>
#include <utility>
#include <vector>

namespace ohmo::belief {

struct Unjoined {
    int entry = -1;
    bool conducts = false;                     ///< more than what dirt lets through
    std::vector<std::pair<int, int>> breaks{}; ///< unit and mode of what may have broken through there
};

/// Of readings in circuit between two islands that a conductor would move; nothing for all others. `shown` is what the meter showed, of
/// leakage in ohm.
std::optional<Unjoined> unjoined(const Model& model, const Board& board, const Observation& reading, const Shown& shown);
bool between_islands(const Model& model, const Query& query);

} // namespace ohmo::belief
