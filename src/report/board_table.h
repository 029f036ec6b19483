// SPDX-License-Identifier: GPL-3.0-or-later
// The traced board as text for other programs and for people.
#pragma once
#include "job/job.h"

#include <string>

namespace ohmo {

/// Mains, rails and parts as Markdown tables.
std::string board_markdown(const Board& board, const Unit& unit);

/// By what the name ends in: .csv the parts list, .md the tables, .cir the netlist. Errors: Usage for any other.
Result<std::string> board_as(const Board& board, const Unit& unit, const Path& name);

} // namespace ohmo
