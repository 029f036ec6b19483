// SPDX-License-Identifier: GPL-3.0-or-later
// One meter as JSON by itself: what a job's `meters` hold, for settings and other programs.
#pragma once
#include "base/result.h"
#include "circuit/meter.h"

#include <nlohmann/json_fwd.hpp>

#include <string>

namespace ohmo {

nlohmann::ordered_json meter_document(const MeterProfile& meter);
std::string meter_text(const MeterProfile& meter); ///< the same on one line

/// Errors: JsonBroken, and those of a job's meter.
Result<MeterProfile> meter_of_text(const std::string& text);

} // namespace ohmo
