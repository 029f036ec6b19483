// SPDX-License-Identifier: GPL-3.0-or-later
// Tells a set of faults as chains: what brought what along. Internal to the assessment.
#pragma once
#include "belief/belief.h"

namespace ohmo {

/// Root first. A fault has a parent where one that stands is likelier to have brought it along than its own wear.
Scenario told(const Board& board, const belief::Belief& belief, const belief::Joint& joint);

} // namespace ohmo
