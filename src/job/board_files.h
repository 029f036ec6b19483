// SPDX-License-Identifier: GPL-3.0-or-later
// Boards from files of other programs, by what the file's name ends in.
#pragma once
#include "circuit/netlist.h"
#include "job/job.h"
#include "job/spice_import.h"

#include <string>
#include <vector>

namespace ohmo {

struct ImportedBoard {
    Board board;
    std::vector<IgnoredLine> ignored; ///< lines of a netlist that became no part
    Problems warnings;                ///< columns of a list that mean nothing here
};

/// .csv and .tsv are parts lists; .cir, .net, .sp, .spice and .ckt SPICE netlists. Errors: as parse_parts_rows and read_spice;
/// Usage for other names, MissingField when no part was found.
Result<ImportedBoard> import_board(const Path& name, const std::string& text);

/// Whether import_board would take a file of this name.
bool importable(const Path& name);

/// A fresh job on this board.
Job job_of_board(const Board& board);

/// The board as SPICE: its own words first, so that it comes back as it was, then its elements in this state and with these faults. With
/// either, the words are left out: it is another board then.
std::string board_as_spice(const Board& board, const Unit& unit, const BoardState& state = {}, const std::vector<Fault>& faults = {});

} // namespace ohmo
