// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/tracing.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace ohmo {
namespace {

constexpr double kLikelyEnough = 0.02;    // stories whose predictions are asked what they rest on
constexpr double kShareOfTheSpread = 0.3; // of a prediction, that a part must have to matter

// What a part would seem to have that is not on this board, or is another one.
bool as_if_absent(FaultMode mode) {
    return mode == FaultMode::Open || mode == FaultMode::High || mode == FaultMode::Low || mode == FaultMode::Dry;
}

const Observation* reading_at(const Evidence& evidence, int entry) {
    for (const auto& o : evidence.observations)
        if (o.kind == Seen::Reading && o.entry == entry) return &o;
    return nullptr;
}

// The reading that spoke most against a part.
const Observation* reading_against(const Evidence& evidence, const PartBelief& belief) {
    for (const auto& reason : belief.reasons)
        if (const auto* o = reading_at(evidence, reason.entry); o != nullptr && reason.decibans > 0) return o;
    return nullptr;
}

} // namespace

TraceAdvice worth_tracing(const Predictor& predictor, const Assessment& assessment, const Evidence& evidence, const Living& living,
                          const std::vector<NextAct>& acts, const InformationWith& information, const CancelToken& cancel) {
    const auto& parts = predictor.board().parts;
    TraceAdvice best;
    if (living.sets.empty() || std::none_of(parts.begin(), parts.end(), [](const Part& p) { return p.assumed; })) return best;
    const auto assumed = [&](int part) { return predictor.board().part(part).assumed; };
    double weight = 0;
    for (int entry : assessment.contradicted_by) { // what the leading story does not explain, an assumption may
        const Observation* o = reading_at(evidence, entry);
        if (o == nullptr) continue;
        for (const auto& d : predictor.predict(o->query, living.sets.front()).by_part)
            if (assumed(d.part) && std::fabs(d.change) > weight) {
                weight = std::fabs(d.change);
                best = {d.part, true, entry, 0, o->query};
            }
    }
    if (best.part >= 0) return best;
    // What reads as open or off its value may never have been there, or have another value; nobody has looked yet.
    for (const auto& b : assessment.parts) {
        if (b.bad < predictor.board().practice().condemned) break;
        if (!assumed(b.part) || evidence.looked.contains(b.part) || evidence.state.is_lifted(b.part) || !as_if_absent(b.leading.mode))
            continue;
        if (const auto* o = reading_against(evidence, b)) return {b.part, true, o->entry, 0, o->query};
    }
    for (const auto& act : acts) {
        if (act.act != Act::Read || cancel.cancelled()) continue;
        std::set<int> shaky;
        for (const auto& sig : signatures(predictor, act.query, living))
            if (sig.p > kLikelyEnough)
                for (const auto& d : sig.prediction->by_part)
                    if (assumed(d.part) && std::fabs(d.change) > kShareOfTheSpread * sig.prediction->sigma) shaky.insert(d.part);
        for (int part : shaky) {
            const double gain = information(act.query, part) - act.bits;
            if (gain > std::max(best.bits, predictor.board().practice().worth_tracing)) best = {part, false, -1, gain, act.query};
        }
    }
    return best;
}

} // namespace ohmo
