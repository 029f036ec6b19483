// SPDX-License-Identifier: GPL-3.0-or-later
// What the place of a part and the unit's history say of its chance to fail first: polarised capacitors that a wrong or reversed supply
// would charge backwards, outputs that a battery fed from behind, tantalums near their rating.
#pragma once
#include "base/cancel.h"
#include "board/roles.h"

#include <set>
#include <string>
#include <vector>

namespace ohmo {

struct ServiceStress {
    double volts = 0;            ///< expected across it in service; 0: not known
    double reverse_volts = 0;    ///< the most it would see backwards with the supply of the history words, >= 0
    bool back_fed = false;       ///< on an output that the history says was fed from behind
    bool drops_the_line = false; ///< in series with the mains: all of the supply's current passes it
    bool slow_pin = false; ///< charged by a few microamperes of a controller: a leak that no one would notice elsewhere stops the unit
};

/// By part; capacitors and resistors only, the others all zero. Reverse volts by the transient solver from the inlet contacts with a direct
/// voltage of either polarity for the words "wrong-adapter" and "reversed-polarity" on boards without mains.
std::vector<ServiceStress> service_stresses(const Board& board, const BoardRoles& roles, const std::set<std::string>& history,
                                            const CancelToken& cancel);

/// Factor on the fault library's weight of a root fault.
double service_factor(const Practice& practice, const Part& part, FaultMode mode, const ServiceStress& stress);

} // namespace ohmo
