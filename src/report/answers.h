// SPDX-License-Identifier: GPL-3.0-or-later
// The command line's JSON answers, as docs/command-line.md fixes them.
#pragma once
#include "base/marking.h"
#include "job/pipeline.h"
#include "job/twin.h"

#include <nlohmann/json.hpp>

namespace ohmo::answers {

using Json = nlohmann::ordered_json;

Json rank(const Analysis& analysis);
Json next(const Analysis& analysis);
Json twin(const std::vector<TwinRow>& rows);
Json story(const Analysis& analysis);
Json plan(const Analysis& analysis);
Json powerup(const Analysis& analysis);
Json predict(const Predictor& predictor, const Query& query, const std::vector<Fault>& faults);
Json live_volts(double lo, double hi); ///< four out of five fall between
Json problems(const Problems& problems);
Json markings(const std::string& marking, const std::vector<MarkingMeaning>& meanings);

} // namespace ohmo::answers
