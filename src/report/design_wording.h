// SPDX-License-Identifier: GPL-3.0-or-later
// The sums behind an assumed board, and the choices of a supply, in words.
#pragma once
#include "design/draft.h"
#include "design/supply.h"

#include <string>

namespace ohmo::wording {

/// "C5: 97.0 W between crests may take 325 V to 293 V: 82.1 µF, chosen 100 µF".
std::string design_sum(const DesignSum& sum);
/// What one looks for on the board: "Inrush limiter".
std::string option(Option option);
/// One of its values: "a thermistor".
std::string option_value(Option option, int value);
std::string feed(const Supply& supply); ///< "mains, 230 V 50 Hz"

} // namespace ohmo::wording
