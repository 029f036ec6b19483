// SPDX-License-Identifier: GPL-3.0-or-later
// A SPICE netlist as a board: what it tells of parts and wires. And a board as a netlist that keeps everything the board says.
#pragma once
#include "board/board.h"

#include <string>
#include <vector>

namespace ohmo {

/// A line of a netlist that became no part.
struct IgnoredLine {
    int line = 0; ///< from 1
    std::string text;
    enum class Why {
        Source,    ///< a source or a controlled one: the bench supplies, not the board
        Control,   ///< an analysis or option
        Unknown,   ///< an element of a kind that a board does not have
        NoModel,   ///< names a model or subcircuit that the file does not hold
        Malformed, ///< too few words
    } why = Why::Unknown;
};

struct SpiceBoard {
    Board board;
    std::vector<IgnoredLine> ignored;
};

/// Reads title, comments (* and ;), continuations (+), values with SPICE suffixes (k, meg, u …), .model cards, flat .subckt with X
/// elements, K couplings (coils on one core), sine sources as the mains. Lines of ours ("*@ ") give parts and rails as they were and stand
/// for the elements after them. Node 0 is called 0. Errors: those of make_board; JsonBroken in a line of ours.
Result<SpiceBoard> read_spice(const std::string& text);

/// The lines ("*@ ") that keep a board's own words in a netlist: one for the board, one a rail, one a part. To stand before its elements.
std::string spice_header(const Board& board);

} // namespace ohmo
