// SPDX-License-Identifier: GPL-3.0-or-later
// The written record of a job.
#pragma once
#include "job/pipeline.h"

#include <string>

namespace ohmo {

std::string record_markdown(const Analysis& analysis);
std::string record_html(const Analysis& analysis); ///< one self-contained page

} // namespace ohmo
