// SPDX-License-Identifier: GPL-3.0-or-later
// What of an assumed board is worth looking up. Internal to the next reading.
#pragma once
#include "advice/forecasts.h"
#include "advice/next_reading.h"

namespace ohmo {

/// The part whose assumption a reading contradicts, else one that is condemned for want of looking, else the one whose value would
/// make one of `acts` tell most more. None on a board of which nothing is assumed.
TraceAdvice worth_tracing(const Board& board, const Assessment& assessment, const Evidence& evidence, const std::vector<NextAct>& acts,
                          Forecasts& forecasts);

/// The first of what the leading story does not explain that was read between places which nothing on the board joins.
TraceAdvice missing_link(const Assessment& assessment, const Evidence& evidence);

/// Minutes to find a part on the board in front of one: seconds for a fuse, the tall capacitor, a connector; minutes for a pin of a small
/// chip. Nothing where it was traced.
double minutes_to_find(const Board& board, int part);

} // namespace ohmo
