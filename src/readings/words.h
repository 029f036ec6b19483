// SPDX-License-Identifier: GPL-3.0-or-later
// Chances of outcomes that are words: looks, cooling and heating, substitutions, verdicts, symptoms. One model for weighing what was seen
// and for asking what to look at next.
#pragma once
#include "damage/behaviour.h"
#include "damage/fault_library.h"
#include "readings/evidence.h"

#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

/// Chance of a look on a part with this fault (null: a sound one). `soot`: share of a burst beside it that reaches it, 0 to 1.
double look_chance(const Practice& practice, const FaultLibrary& library, PartKind kind, const std::string& word, const Fault* fault,
                   double soot = 0);

/// Destroyed to the eye, as hardly any part that works is: burnt, cracked, vented, black, a hole, a lead blown off.
bool looks_destroyed(std::string_view word);

/// Chance of "recovers", "worse" or "same" when the part with this fault (null: a sound one) is cooled or heated on a running unit.
double temperature_chance(const Practice& practice, const std::string& word, bool cooled, const Fault* fault);

/// Chance of "works" ("recovers") or "same" with a known-good part in the place of another. `bad`: the old one was; `alone`: nothing else
/// is.
double substitute_chance(const Practice& practice, const std::string& word, bool bad, bool alone);

/// Everything that is not a meter reading.
double other_likelihood(const Board& board, const FaultLibrary& library, const Observation& seen, const std::vector<Fault>& faults,
                        const Behaviour& behaviour);

} // namespace ohmo
