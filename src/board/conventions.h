// SPDX-License-Identifier: GPL-3.0-or-later
// What the trade's habits suggest about a part that somebody traces: its kind by its ref, its stage by its company.
#pragma once
#include "board/board.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

/// The kind that a ref's letters stand for: R resistor, C a ceramic (electrolytic from a microfarad up, where the value says it), D diode,
/// Q transistor (by its pins: D G S, C B E, C G E), and so on: common practice, no source. Nothing where they say nothing.
std::optional<PartKind> kind_of_ref(const std::string& ref, const std::string& value, const std::vector<std::string>& roles);

/// A kind by its name, or by what people say for it: "npn", "scr", "led", "coil".
std::optional<PartKind> kind_of_word(const std::string& word);

/// Gives every part without a stage the one that its kind, its side of the barrier and its neighbours suggest. For a numbered board.
void fill_stages(Board& board);

} // namespace ohmo
