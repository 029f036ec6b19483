// SPDX-License-Identifier: GPL-3.0-or-later
// The parts drawer: a CSV with a header line.
#pragma once
#include "base/result.h"
#include "board/board.h"
#include "board/nominal.h"

#include <string>
#include <vector>

namespace ohmo {

enum class Origin { New, Drawer, Salvaged };

struct StockItem {
    std::string id;
    Part part; ///< kind, value and ratings; no pins
    Nominal nominal;
    int count = 0;
    double price = 0; ///< each, in the drawer's currency
    Origin origin = Origin::New;
};

/// Columns by name, any order: id, kind, value, volts, amps, watts, celsius, esr, count, price, origin (new, drawer, salvaged). Empty cells
/// are unknown. Errors: MissingField (column), UnknownPartKind, UnreadableValue, each with its line.
Result<std::vector<StockItem>> parse_stock(const std::string& csv, const std::string& place);

} // namespace ohmo
