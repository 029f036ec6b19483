// SPDX-License-Identifier: GPL-3.0-or-later
// Engineering notation both ways, including the letter-as-decimal-point code of IEC 60062 (4k7, 0R33, u47).
#pragma once
#include "base/result.h"

#include <string>
#include <string_view>

namespace ohmo {

/// "2.90 Ω", "1.90 kΩ", "68.0 µF": value with SI prefix, three significant figures, a space, the unit.
/// Not finite values give "–".
std::string format_quantity(double value, std::string_view unit, int figures = 3);

/// As format_quantity, trailing zeros left out: "68 µF", "4.7 kΩ". For nominal values printed on parts.
std::string format_nominal(double value, std::string_view unit);

/// A share as per cent for people: "99 %", "<1 %", ">99 %".
std::string format_share(double share);

/// SI value of a text such as 68u, 4k7, 0R33, R47, 2.2M, 1e-3, 10 kΩ, 470nF, 1,5k. A trailing unit (Ω, ohm, F, H, V, A, W, Hz, s) is
/// allowed. Errors: UnreadableValue with the text in `found`.
Result<double> parse_quantity(std::string_view text);

} // namespace ohmo
