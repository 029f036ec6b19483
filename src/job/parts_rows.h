// SPDX-License-Identifier: GPL-3.0-or-later
// Parts lists as tables: rows pasted from a spreadsheet, CSV files, and the same way out.
#pragma once
#include "board/board.h"
#include "board/edit.h"

#include <string>
#include <vector>

namespace ohmo {

struct PartsRows {
    std::vector<BoardEdit> edits; ///< one a row; parts that are there are changed
    Problems warnings;            ///< columns that mean nothing here, cells that were left out
};

/// Rows with a line of headings (ref, kind, value, volts, amps, watts, celsius, stage, role, pins; further headings are pin names:
/// "1", "+", "D"), or without: ref, value or kind, then nets in the order of the pins. Tabs, semicolons or commas part the cells. A column
/// `pins` holds "1=HV 2=VCC". Errors, with line and column: MissingField (ref), UnknownPartKind, UnreadableValue, NegativeValue.
Result<PartsRows> parse_parts_rows(const Board& board, const std::string& text);

/// The board as such a table, with headings; reading it back gives the same parts.
std::string parts_csv(const Board& board);

} // namespace ohmo
