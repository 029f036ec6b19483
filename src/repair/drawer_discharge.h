// SPDX-License-Identifier: GPL-3.0-or-later
// Resistors of the drawer that a charged capacitor may be emptied through.
#pragma once
#include "repair/stock.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

struct DrawerDischarge {
    std::string id; ///< of the drawer
    Part part;
    int count = 1;                                ///< in series
    double watts_each = 0, seconds = 0, ohms = 0; ///< in the first instant; to the low volts; all together
};

/// The fewest equal resistors in series, the quickest of those, that stand it: in the first instant no more than the short-time overload of
/// IEC 60115-1, 2.5 times the rated volts and so 6.25 times the watts for 5 s (from memory), no more than a body of its size stands
/// (common practice, no source), and low within some seconds. Nothing when the drawer has none, or there is no charge.
std::optional<DrawerDischarge> drawer_discharge(const Practice& p, const std::vector<StockItem>& stock, double farads, double volts,
                                                double low_volts);

} // namespace ohmo
