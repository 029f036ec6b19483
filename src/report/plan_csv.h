// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "job/pipeline.h"

#include <string>

namespace ohmo {

/// The replacement plan as CSV, one line a part: ref, value, reason, choice, price, stage.
std::string plan_csv(const Analysis& analysis);

} // namespace ohmo
