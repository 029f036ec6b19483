// SPDX-License-Identifier: GPL-3.0-or-later
// Comma-separated values both ways (RFC 4180), by libcsv.
#pragma once
#include "base/result.h"

#include <string>
#include <vector>

namespace ohmo {

struct CsvRow {
    int line = 0; ///< where it begins, from 1
    std::vector<std::string> cells;
};

/// Empty lines and lines that begin with # are left out; cells lose the spaces around them unless they are quoted. A quote that is never
/// closed takes the rest of the text into its cell.
std::vector<CsvRow> parse_csv(const std::string& text, char separator = ',');

/// One row with its end of line. Cells are quoted where they hold a comma, a quote or an end of line; quotes in them are doubled.
std::string csv_line(const std::vector<std::string>& cells);

} // namespace ohmo
