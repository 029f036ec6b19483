// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next: readings, looks and interventions by expected information per minute.
// Method: the mutual information of outcome and story (D. V. Lindley, On a measure of the information provided by an experiment, 1956), in
// bits, over the minutes of practice that the act takes; the best rate first. Looks one step ahead only.
#pragma once
#include "posterior/assess.h"

#include <optional>
#include <vector>

namespace ohmo {

enum class Act {
    Read,
    Look,
    Substitute,
    Pull, ///< a connector, then the reading of `query`, whose state has it pulled
    Cool,
};

/// A range of outcomes that belongs to one group of stories.
struct Band {
    double lo = 0, hi = 0; ///< SI; over-range bands have over = true and no numbers
    bool over = false;
    bool healthy = false;                         ///< what a good board reads
    double p = 0;                                 ///< chance that the reading falls here
    std::optional<Fault> story;                   ///< the fault that sets this group apart; empty: nothing wrong that this reading sees
    std::vector<std::string> looks;               ///< the outcomes of this band when it is no reading
    std::vector<std::pair<int, double>> suspects; ///< parts that are bad if it falls here, with their chance then; likeliest first
};

struct NextAct {
    Act act = Act::Read;
    Query query{};              ///< Act::Read, Act::Pull
    int part = -1;              ///< the part it is about, if one
    std::vector<int> to_lift{}; ///< parts to be lifted for it that are not now
    double bits = 0, minutes = 1;
    std::vector<Band> bands{}; ///< by rising value, over-range last
    bool four_wires = false;   ///< with the meter that resolves milliohms
    bool again = false;        ///< it was taken once and says other than the leading story
    double rate() const { return bits / minutes; }
};

enum class StopReason { None, Settled, NothingTells, NoEvidence };

/// What is only assumed of the board and worth looking up: a part's marking, its value, where its pins go.
struct TraceAdvice {
    int part = -1;        ///< none: -1
    bool differs = false; ///< a reading contradicts what was assumed: look there before a part is condemned
    int entry = -1;       ///< that reading's journal index
    double bits = 0;      ///< how much more the best reading would tell with this part known
    Query query;          ///< that reading
};

struct NextAdvice {
    std::vector<NextAct> acts; ///< best first, 12 at the most
    TraceAdvice trace;         ///< the one part worth tracing next, on boards with assumed parts
    bool stop = false;
    bool settled = false; ///< one set of bad parts is all but certain
    StopReason reason = StopReason::None;
};

struct NextOptions {
    std::size_t most_scenarios = 0; ///< the likeliest that are told apart; 0: as many as the decision needs
};

/// Only unpowered readings are offered unless evidence.live_allowed. Errors: Cancelled.
Result<NextAdvice> next_acts(const Predictor& predictor, const FaultLibrary& library, const Assessment& assessment,
                             const Evidence& evidence, const NextOptions& options, const CancelToken& cancel);

/// Every reading that may be offered in the present state, and as many of the likeliest scenarios as that takes: what the next answers
/// need. Errors: Cancelled.
Result<bool> prepare_next(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const CancelToken& cancel);

/// Bands of one reading under the present beliefs; the healthy one is always among them.
std::vector<Band> reading_bands(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const Query& query);

} // namespace ohmo
