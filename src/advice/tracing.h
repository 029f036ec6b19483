// SPDX-License-Identifier: GPL-3.0-or-later
// What of an assumed board is worth looking up. Internal to the next reading.
// Method: the gain in bits of the best reading when one assumed part's share of the spread is taken off.
#pragma once
#include "advice/bands.h"
#include "base/cancel.h"

#include <functional>

namespace ohmo {

/// Bits that a reading would tell if the value of `known` had been read from its marking.
using InformationWith = std::function<double(const Query& query, int known)>;

/// The part whose assumption a reading contradicts, else one that is condemned for want of looking, else the one whose value would make
/// one of `acts` tell most more. None on a board of which nothing is assumed.
TraceAdvice worth_tracing(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const Living& living,
                          const std::vector<NextAct>& acts, const InformationWith& information, const CancelToken& cancel);

} // namespace ohmo
