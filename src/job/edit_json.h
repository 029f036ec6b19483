// SPDX-License-Identifier: GPL-3.0-or-later
// Steps of tracing as journal entries write them.
#pragma once
#include "board/edit.h"
#include "job/read_json.h"

#include <vector>

namespace ohmo::detail {

/// The steps of a `trace` entry: one written into the entry itself, or several under "steps".
std::vector<BoardEdit> read_edits(const Json& entry, const std::string& place, Problems& problems);
void write_edits(const std::vector<BoardEdit>& edits, Json& entry);

} // namespace ohmo::detail
