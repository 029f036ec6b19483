// SPDX-License-Identifier: GPL-3.0-or-later
// What a single part must have to stand on a board. For make_board and for steps of tracing.
#pragma once
#include "board/board.h"

#include <string>

namespace ohmo {

inline constexpr double kMostMainsVolts = 480, kMostMainsHertz = 500;

/// Pins by the rule of the kind, numbers not below zero, a value that can be read. Places start with `place`.
void check_part(const Part& part, const std::string& place, Problems& out);

/// The pins of a kind, for people: "D, G, S".
std::string roles_text(PartKind kind);

} // namespace ohmo
