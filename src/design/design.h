// SPDX-License-Identifier: GPL-3.0-or-later
// A typical board for what one sees of a supply: parts, values by a designer's sums, wiring. A guess to be corrected by tracing.
#pragma once
#include "board/board.h"
#include "design/draft.h"
#include "design/supply.h"

namespace ohmo {

/// The board in `Design::draft` has numbered nets. Errors: those of supply_problems; of make_board where a design does not hold together.
Result<Design> design_supply(const Supply& supply, const Practice& practice = shipped_practice());

} // namespace ohmo
