// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/board.h"

#include <utility>
#include <vector>

namespace ohmo {

/// Where the leads go on a part: red net, black net. Diodes of a bridge one by one, switches across and at their drive, controllers at
/// supply and drive. A net is -1 where the part has no such pin.
std::vector<std::pair<NetId, NetId>> places(const Part& part);

} // namespace ohmo
