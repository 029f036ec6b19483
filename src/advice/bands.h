// SPDX-License-Identifier: GPL-3.0-or-later
// Which ranges of a reading belong to which stories. Internal to the next reading.
// Method: outcomes in the order of the axis, neighbours within 1.6 deviations joined; a band that would hold nearly everything is parted
// where the stories below become less likely than those above. Limits in SI units, chances without unit.
#pragma once
#include "advice/forecasts.h"
#include "advice/next_reading.h"

#include <vector>

namespace ohmo {

/// By rising value, over-range last; the healthy one is always among them. A reading worth `bits` whose outcomes run into each other is
/// parted where one half of the chance gives way to the other.
std::vector<Band> bands_of(Quantity what, std::vector<Case> cases, const std::optional<Outcome>& healthy, double bits = 0);

} // namespace ohmo
