// SPDX-License-Identifier: GPL-3.0-or-later
// What a board is designed from, as JSON: the same words as on the command line.
#pragma once
#include "design/supply.h"
#include "job/read_json.h"

namespace ohmo::detail {

/// Errors: SchemaMismatch, UnknownWord, those of parse_feed, parse_supply_rail and supply_problems; places are JSON pointers below `place`.
Result<Supply> read_supply(const nlohmann::json& object, const std::string& place);
nlohmann::ordered_json write_supply(const Supply& supply);

} // namespace ohmo::detail
