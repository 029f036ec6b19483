// SPDX-License-Identifier: GPL-3.0-or-later
// Live readings against the bands of the step under way: the rule that stops the ladder.
#pragma once
#include "powerup/ladder.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

/// A reading under power.
struct LiveReading {
    std::string where; ///< net of the red lead; "mains-current" for the current from the mains
    std::string unit;  ///< "V", "A"
    double value = 0;
};

struct CheckedFigure {
    Figure figure;
    std::optional<double> read; ///< the last reading there in this step
    bool outside() const { return read && (*read < figure.lo || *read > figure.hi); }
};

struct LiveCheck {
    std::vector<CheckedFigure> figures; ///< of the step under way, whatever the locks say; empty when every step has passed
    bool must_stop() const;             ///< one of them lies outside its band: switch off, discharge, find out why
};

/// `readings`: those since the step before was passed, in order.
LiveCheck live_check(const Ladder& ladder, const std::vector<LiveReading>& readings);

} // namespace ohmo
