// SPDX-License-Identifier: GPL-3.0-or-later
// The figures of practice as tables.
#pragma once
#include "board/practice.h"

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace ohmo {

std::string practice_text(const PracticeFile& file);     ///< for a terminal
std::string practice_markdown(const PracticeFile& file); ///< docs/practice.md
nlohmann::ordered_json practice_json(const PracticeFile& file);

} // namespace ohmo
