// SPDX-License-Identifier: GPL-3.0-or-later
// The boards of each family. All take a supply without problems (see supply_problems).
#pragma once
#include "design/blocks.h"
#include "design/draft.h"

#include <string>

namespace ohmo {

Design design_flyback(const Supply& supply, const Practice& practice);
Design design_integrated_flyback(const Supply& supply, const Practice& practice);
Design design_synchronous_flyback(const Supply& supply, const Practice& practice);
Design design_constant_current(const Supply& supply, const Practice& practice);
Design design_half_bridge(const Supply& supply, const Practice& practice);
Design design_self_oscillating(const Supply& supply, const Practice& practice);
Design design_linear(const Supply& supply, const Practice& practice);
Design design_adapter(const Supply& supply, const Practice& practice);
Design design_split(const Supply& supply, const Practice& practice);
Design design_buck(const Supply& supply, const Practice& practice);
Design design_distribution(const Supply& supply, const Practice& practice);
Design design_inverter(const Supply& supply, const Practice& practice);

/// A small supply of 5 V that runs all the time, with a winding for the controller where `controller_supply` names its net.
void add_standby(Draft& d, const Entry& entry, const std::string& controller_supply);

} // namespace ohmo
