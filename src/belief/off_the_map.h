// SPDX-License-Identifier: GPL-3.0-or-later
// What is wrong may be on no map: then what was seen of a part alone stays true, and what readings say of it whatever lies beside it.
#pragma once
#include "belief/search.h"

#include <memory>
#include <vector>

namespace ohmo::belief {

/// A part's modes then.
struct OffTheMap {
    std::vector<double> chances; ///< sum to one
    double ln = 0;               ///< of what the readings leave of them together
};
/// `beside`: by mode, from ln_whatever_beside.
OffTheMap off_the_map(const IslandSearch& island, std::size_t position, const std::vector<double>& beside);

/// ln weight of all that is on no map. `beside` by unit and mode.
double ln_off_the_map(const std::vector<std::unique_ptr<IslandSearch>>& islands, const Complaints& complaints,
                      const std::vector<std::vector<double>>& beside, double chance);

} // namespace ohmo::belief
