// SPDX-License-Identifier: GPL-3.0-or-later
// What to read on a unit that is switched on, by expected information per minute: how far the energy gets tells what stops it, where no
// cold reading does. Each fault that may be there is asked for by itself beside what is bad for certain (damage/live_point); as with cold
// readings a step ahead only.
#pragma once
#include "advice/next_reading.h"
#include "belief/under_power.h"

#include <vector>

namespace ohmo {

/// Best first, a few at the most: Act::Read of volts, `bits` and `bands` as of any reading. None where what is known to be bad lets nothing
/// in, or blows the fuse: power tells nothing there. For a unit on its full supply; nobody but the caller knows whether it is.
std::vector<NextAct> live_acts(const Inquiry& about, belief::Alone& alone, const CancelToken& cancel);

} // namespace ohmo
