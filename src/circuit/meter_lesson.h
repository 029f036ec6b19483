// SPDX-License-Identifier: GPL-3.0-or-later
// A meter is taught: what it shows of a known resistor and of a silicon diode, range by range, tells its gain and its test currents.
#pragma once
#include "base/result.h"
#include "circuit/meter.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

/// What was read on one range. All in ohm; what was not read stays empty.
struct RangeLesson {
    double full = 0;                        ///< highest value of the range
    std::optional<double> known{}, shown{}; ///< a resistor of known value, and what the meter shows of it, leads taken off
    std::optional<double> diode{};          ///< what it shows of the diode, red lead at the anode
    bool diode_over = false;                ///< it showed over range instead
    double in_series = 0;                   ///< resistor put in series with the diode, so that the meter stays on this range
};

struct MeterLesson {
    std::string id;                    ///< the name that readings call it by
    double leads = 0;                  ///< ohm with the tips touched, where the meter does not take them off
    std::optional<double> diode{};     ///< volts that its diode test shows of the same diode
    std::vector<RangeLesson> ranges{}; ///< lowest first
    double resistor_tolerance = 0.01;  ///< of the known resistors, as a share
};

/// The ranges that a meter of this many counts usually has, for a lesson still empty: 2000 gives 200 ohm to 20 megohm.
std::vector<RangeLesson> ranges_of_counts(int counts);

/// The meter as it was learned. A range whose diode was not read keeps the current of a usual meter, held for little known.
/// Source of the diode's law: the ideal exponential with the slope of silicon diodes (1.75 to 1.95), common practice, no source; the
/// diode test is taken to run at 1 mA within a factor of two.
/// Errors, each with the place (`id`, `diode`, `range 2/shown`): no name; no range, or ranges not rising; a known resistor shown 10 % off
/// or more; a diode that does not read like silicon; a test current that no hand meter has.
Result<MeterProfile> teach_meter(const MeterLesson& lesson);

} // namespace ohmo
