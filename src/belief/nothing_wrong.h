// SPDX-License-Identifier: GPL-3.0-or-later
// What it weighs that nothing on the board is wrong: a complaint then comes of itself, or from outside.
#pragma once
#include "belief/complaints.h"
#include "belief/search.h"

#include <array>
#include <memory>
#include <optional>
#include <vector>

namespace ohmo::belief {

using ByAge = std::array<double, kAges>;

/// ln of the one state in which every part is fine, by age, whatever was complained of; nothing where a search has dropped it.
std::optional<ByAge> ln_nothing_wrong(const std::vector<std::unique_ptr<IslandSearch>>& islands, const Ages& ages);

/// The same with every complaint coming of itself.
double ln_of_itself(const std::optional<ByAge>& fine, const Complaints& complaints);

/// The same with every complaint coming from outside; what was asked last says from where. kNone without a complaint.
double ln_outside(const std::optional<ByAge>& fine, const Complaints& complaints, Outside cause);

} // namespace ohmo::belief
