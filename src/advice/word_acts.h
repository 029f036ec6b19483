// SPDX-License-Identifier: GPL-3.0-or-later
// Acts whose outcome is a word: looks, cooling, substitutions. Internal to the next reading.
// Method: the same information as for readings (outcomes.h), by the chances of readings/words.
#pragma once
#include "advice/next_reading.h"
#include "damage/fault_library.h"

#include <vector>

namespace ohmo {

/// Those worth at least `least_bits`, by kind and falling suspicion; cooling and substitution only where power is allowed.
std::vector<NextAct> word_acts(const Board& board, const FaultLibrary& library, const Assessment& assessment, const Evidence& evidence,
                               double least_bits);

} // namespace ohmo
