// SPDX-License-Identifier: GPL-3.0-or-later
// The load that a live reading was taken at, as said at the bench: "idle", "full", a share "50%", or watts "30W".
#pragma once
#include "base/result.h"
#include "board/board.h"

#include <string>
#include <string_view>

namespace ohmo {

inline constexpr std::string_view kLoadsSaid = "idle, full, a share such as 50%, watts such as 30W";

/// Share of the full load, 0 idle, at most 2. Watts are those of the rail on net `rail`, of all rails where none is there. Errors:
/// OutOfRangeValue at "/load".
Result<double> load_share(const Board& board, std::string_view rail, std::string_view said);

} // namespace ohmo
