// SPDX-License-Identifier: GPL-3.0-or-later
// Tracing in the bench line: "+ R12 4k7 HV VCC", "= R12 2k2", "= Q1 G=GATE2", "- R12", "R12.1 C5.+ beep", "net N7 VCC", "number R12 R13",
// "double R12 R13 HV X", "rail +12V 0V 12V 2A", "mains 230V 50Hz".
#pragma once
#include "job/job.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

/// The entry that a line of tracing means; nothing when the line is about something else. Errors: Usage and those of apply_edit; `found`
/// is the word that was not understood.
std::optional<Result<Entry>> parse_trace_line(const Board& board, const std::vector<std::string>& words);

/// Words that could stand at this place of a line of tracing; empty when it is about something else.
std::vector<std::string> trace_words(const Board& board, const std::vector<std::string>& before);

} // namespace ohmo
