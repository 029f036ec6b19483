// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/result.h"

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace ohmo::detail {

/// What of `text`, valid JSON, the JSON Schema refuses; twenty at the most. Kept apart: the validator's templates take long to compile.
void schema_problems(const nlohmann::json& schema, const std::string& text, Problems& out);

} // namespace ohmo::detail
