// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/tracing.h"

#include "belief/unjoined.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr double kAlreadyOne = 0.1; // of what is worth it: the readings are offered anyway
constexpr double kMattersIn = 0.3;  // of a reading's axis for one deviation of the unknown, in touches

// What a part would seem to have that is not on this board, or is another one.
bool as_if_absent(FaultMode mode) {
    return mode == FaultMode::Open || mode == FaultMode::High || mode == FaultMode::Low || mode == FaultMode::Dry;
}

const Observation* reading_at(const Evidence& evidence, int entry) {
    for (const auto& o : evidence.observations)
        if (o.kind == Seen::Reading && o.entry == entry) return &o;
    return nullptr;
}

const Observation* reading_against(const Evidence& evidence, const PartBelief& belief) {
    for (const auto& reason : belief.reasons)
        if (const auto* o = reading_at(evidence, reason.entry); o != nullptr && reason.decibans > 0) return o;
    return nullptr;
}

struct Heaviest {
    int part = -1, entry = -1;
    double weight = 0;
};

// The assumed part whose value the readings of the likeliest states rest on most; of one entry.
Heaviest rests_on(const Board& board, const Assessment& assessment, int entry) {
    Heaviest best;
    const auto& belief = *assessment.belief;
    for (const auto& island : belief.islands()) {
        if (island->seen().empty()) continue;
        const auto fit = island->fit_of(island->likeliest(), 0);
        for (std::size_t j = 0; j < island->seen().size(); ++j) {
            if (island->seen()[j].entry != entry) continue;
            std::map<int, double> by_part;
            for (std::size_t k = 0; k < island->island().owner.size(); ++k) {
                const int owner = island->island().owner[k];
                if (owner < 0) continue;
                const int part = belief.model().units[static_cast<std::size_t>(owner)].part;
                if (board.part(part).assumed)
                    by_part[part] += std::fabs(fit.slopes(static_cast<Eigen::Index>(j), static_cast<Eigen::Index>(k))) *
                                     std::sqrt(fit.variance(static_cast<Eigen::Index>(k)));
            }
            for (const auto& [part, moved] : by_part)
                if (moved / island->seen()[j].touch.noise > std::max(best.weight, kMattersIn))
                    best = {part, island->seen()[j].entry, moved / island->seen()[j].touch.noise};
        }
    }
    return best;
}

} // namespace

TraceAdvice worth_tracing(const Board& board, const Assessment& assessment, const Evidence& evidence, const std::vector<NextAct>& acts,
                          Forecasts& forecasts) {
    TraceAdvice none;
    if (std::none_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.assumed; })) return none;
    for (int entry : assessment.contradicted_by) { // what the leading story does not explain, an assumption may
        const Observation* o = reading_at(evidence, entry);
        if (o == nullptr) continue;
        if (const auto at = rests_on(board, assessment, entry); at.part >= 0)
            return {.part = at.part, .differs = true, .entry = entry, .query = o->query};
    }
    // What reads as open or off its value may never have been there, or have another value; nobody has looked yet.
    for (const auto& b : assessment.parts) {
        if (b.bad < board.practice().condemned) break;
        if (!board.part(b.part).assumed || evidence.looked.contains(b.part) || evidence.state.is_lifted(b.part) ||
            !as_if_absent(b.leading.mode))
            continue;
        if (const auto* o = reading_against(evidence, b)) return {.part = b.part, .differs = true, .entry = o->entry, .query = o->query};
    }
    TraceAdvice best;
    for (const auto& act : acts) {
        if (act.act != Act::Read || act.query.alone >= 0) continue;
        std::vector<Outcome> outcomes;
        for (const auto& c : forecasts.cases(act.query)) outcomes.push_back(c.outcome);
        const double bits = reading_information(outcomes);
        for (const auto& [part, variance] : forecasts.variances(act.query)) {
            if (!board.part(part).assumed) continue;
            auto sharper = outcomes;
            for (auto& o : sharper) o.spread = std::sqrt(std::max(o.spread * o.spread - variance, 0.1 * o.spread * o.spread));
            const double gain = reading_information(std::move(sharper)) - bits;
            if (gain > std::max(best.bits, board.practice().worth_tracing * kAlreadyOne))
                best = {.part = part, .bits = gain, .query = act.query};
        }
    }
    return best;
}

TraceAdvice missing_link(const Assessment& assessment, const Evidence& evidence) {
    for (int entry : assessment.contradicted_by)
        if (const Observation* o = reading_at(evidence, entry);
            o != nullptr && belief::between_islands(assessment.belief->model(), o->query))
            return {.missing = true, .entry = entry, .query = o->query};
    return {};
}

double minutes_to_find(const Board& board, int index) {
    const Part& part = board.part(index);
    const Practice& p = board.practice();
    if (!part.assumed) return 0;
    switch (part.kind) {
    case PartKind::Fuse:
    case PartKind::Connector:
    case PartKind::Switch:
    case PartKind::Transformer:
    case PartKind::Lamp:
    case PartKind::Load:
        return p.find_at_once;
    case PartKind::Electrolytic:
        return part.stage == "bulk" ? p.find_at_once : p.find_large;
    case PartKind::Choke:
    case PartKind::Inductor:
    case PartKind::Bridge:
    case PartKind::Varistor:
    case PartKind::Thermistor:
    case PartKind::XCapacitor:
    case PartKind::Relay:
    case PartKind::Mosfet:
    case PartKind::Igbt:
    case PartKind::Regulator:
    case PartKind::Thyristor:
    case PartKind::Schottky:
        return p.find_large;
    case PartKind::Controller:
    case PartKind::IntegratedSwitch:
    case PartKind::ShuntReference:
    case PartKind::Optocoupler:
        return p.find_chip_pin;
    default:
        return p.find_small;
    }
}

} // namespace ohmo
