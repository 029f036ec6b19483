// SPDX-License-Identifier: GPL-3.0-or-later
// Supplies as labels and boards show them: every family small, middling and large, with what else may stand on such a board.
#pragma once
#include "design/supply.h"

#include <string>
#include <utility>
#include <vector>

namespace ohmo::test {

Supply usual_supply(const std::string& family); ///< of the shipped blueprint
Supply fitted(Supply supply, const std::string& feed, const std::vector<std::string>& rails,
              const std::vector<std::pair<std::string, std::string>>& options = {});

struct DesignedSupply {
    std::string name;
    Supply supply;
};
std::vector<DesignedSupply> designed_supplies();

} // namespace ohmo::test
