// SPDX-License-Identifier: GPL-3.0-or-later
// What a single part must have to stand on a board. For make_board and for steps of tracing.
#pragma once
#include "board/board.h"

#include <string>

namespace ohmo {

inline constexpr double kMostMainsVolts = 480, kMostMainsHertz = 500;

/// Pins by the rule of the kind, numbers not below zero. Places start with `place`.
void check_part(const Part& part, const std::string& place, Problems& out);

/// A value that can be read, and not below zero. One that cannot be is an error where it was just written, a warning on a board that comes
/// so: the part counts as one without.
void check_value(const Part& part, const std::string& place, bool just_written, Problems& out);

/// The pins of a kind, for people: "D, G, S".
std::string roles_text(PartKind kind);

} // namespace ohmo
