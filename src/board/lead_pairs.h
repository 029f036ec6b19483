// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/board.h"

#include <utility>
#include <vector>

namespace ohmo {

using LeadPair = std::pair<NetId, NetId>; ///< net under the red lead, net under the black one

/// Where the leads go on a part. Diodes of a bridge one by one, switches across and at their drive, controllers at
/// supply and drive. A net is -1 where the part has no such pin.
std::vector<LeadPair> find_lead_pairs(const Board& board, const Part& part);

} // namespace ohmo
