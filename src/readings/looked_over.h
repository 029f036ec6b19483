// SPDX-License-Identifier: GPL-3.0-or-later
// What is not said of a part may tell as well: whoever notes the odd looks of a board before he reads anything has looked all of it over,
// and has nothing to say of what looked fine.
#pragma once
#include "damage/fault_library.h"
#include "readings/evidence.h"

namespace ohmo {

/// Chance that whoever wrote this would have noted an odd look on a part of which nothing is noted: none without an odd look that stands
/// before anything was read and before anything was said to look fine, more with each.
double looked_over(const Practice& practice, const Evidence& evidence);

/// Chance that nothing is noted of a part with this fault (null: a sound one). `over`: as above.
double unnoted_chance(const Practice& practice, const FaultLibrary& library, PartKind kind, const Fault* fault, double over);

} // namespace ohmo
