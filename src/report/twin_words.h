// SPDX-License-Identifier: GPL-3.0-or-later
// A good unit beside this one, in words.
#pragma once
#include "job/twin.h"

#include <string>

namespace ohmo::wording {

std::string twin_place(const TwinPlace& place); ///< "ohms HV to PGND, Q1 out"
std::string twin_line(const TwinPlace& place);  ///< as the bench line takes it, its value left out
std::string twin_reading(Quantity what, const std::optional<TwinReading>& reading);
std::string twin_says(const TwinRow& row); ///< "▼ 4.1 times lower"
/// What the rows come to, in one sentence.
std::string twin_sum(const std::vector<TwinRow>& rows);

} // namespace ohmo::wording
