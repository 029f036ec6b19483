// SPDX-License-Identifier: GPL-3.0-or-later
// A board as JSON, as the job file writes it.
#pragma once
#include "job/read_json.h"

namespace ohmo::detail {

Json write_board(const Board& board);

/// One line of JSON for the board itself, one a rail, one a part.
std::vector<std::string> lines_of_board(const Board& board);
/// Back again. `numbers`: of the lines in their file. Errors: JsonBroken, those of read_board and make_board.
Result<Board> board_of_lines(const std::vector<std::string>& lines, const std::vector<int>& numbers);

} // namespace ohmo::detail
