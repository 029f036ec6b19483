// SPDX-License-Identifier: GPL-3.0-or-later
// Method: Bayes over the enumerated scenarios, logs throughout. When the leader misfits a reading, its neighbours with one fault more, one
// fewer or one exchanged are generated and scored, until the leader fits or nothing improves. Repeated readings of one place in one state
// count once (the last). Scenarios that matter are scored again with what their readings share of part tolerances.
#include "posterior/assess.h"

#include "board/roles.h"
#include "damage/surge_tree.h"
#include "damage/telling.h"
#include "posterior/weighing.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <numeric>
#include <optional>
#include <set>

namespace ohmo {
namespace {

constexpr double kLeaderShare = 0.3; // of the likeliest: scenarios that get their variants
constexpr double kHelps = 1.5;       // times as likely as the leader makes it: a reading that is explained better
constexpr int kMostRounds = 12;      // of growth
constexpr double kStillGains = 0.5;  // as a power of e: what a round of growth brought that makes another worth while
constexpr std::size_t kMostVariants = 600;
constexpr double kLeastFurther = 1e-5; // odds of a further fault with its chain that a leader may have had beside it
constexpr double kAgrees = 0.15;       // of the score axis: the same reading once more
constexpr double kForgotten = 18;      // below e to this of the leader: adds nothing to a history
constexpr std::size_t kTold = 5;       // stories whose causes are put in order

bool agree(const Observation& a, const Observation& b) {
    if (a.over || b.over) return a.over == b.over;
    return std::fabs(score_axis(a.query.what, a.value) - score_axis(b.query.what, b.value)) < kAgrees;
}

// A place that was read again in the same state counts once, as it was read last; but what comes out the same twice was no slip.
std::vector<Observation> counted(const Evidence& evidence) {
    const auto& all = evidence.observations;
    std::vector<Observation> out;
    for (std::size_t i = 0; i < all.size(); ++i) {
        const bool repeated =
            all[i].kind == Seen::Reading && std::any_of(all.begin() + static_cast<long>(i) + 1, all.end(), [&](const Observation& later) {
                return later.kind == Seen::Reading && later.query == all[i].query && later.renewed == all[i].renewed;
            });
        if (repeated) continue;
        out.push_back(all[i]);
        for (std::size_t k = 0; k < i && all[i].kind == Seen::Reading; ++k)
            out.back().confirmed +=
                all[k].kind == Seen::Reading && all[k].query == all[i].query && all[k].renewed == all[i].renewed && agree(all[k], all[i]);
    }
    return out;
}

class Assessor {
public:
    Assessor(const Predictor& predictor, const FaultLibrary& library, const Hypotheses& hypotheses, const Evidence& evidence,
             const CancelToken& cancel, Weighed* memory)
        : m_predictor(predictor), m_memory(memory), m_hypotheses(hypotheses), m_set(*hypotheses.scenarios), m_evidence(evidence),
          m_cancel(cancel), m_weighing(predictor, library, counted(evidence), cancel) {}

    Result<Assessment> run(const AssessOptions& options) {
        std::vector<const Scenario*> all;
        for (const auto& s : m_set.scenarios) all.push_back(&s);
        m_weighing.add(all, m_hypotheses.sets, false, 0, m_memory);
        m_weighing.correlate();
        double before = m_weighing.top();
        for (int round = 0; round < kMostRounds && grow(); ++round) {
            m_weighing.correlate();
            if (round + 1 >= options.growth_rounds && m_weighing.top() < before + kStillGains) break;
            before = m_weighing.top();
        }
        for (int round = 0; round < options.growth_rounds && add_variants(); ++round) m_weighing.correlate();
        if (m_cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        m_weighing.settle();
        return summary();
    }

private:
    const Practice& practice() const { return m_predictor.board().practice(); }

    bool add(std::vector<Scenario> scenarios, bool grown, double credit) {
        const auto sets = m_predictor.ids(scenarios);
        std::vector<const Scenario*> kept;
        for (auto& s : scenarios) {
            tell_in_order(m_predictor.board(), s);
            m_made.push_back(std::move(s));
            kept.push_back(&m_made.back());
        }
        return m_weighing.add(kept, sets, grown, credit);
    }

    // The enumeration stops at a number of scenarios and prunes unlikely endings of a surge, so a likely but long chain is there without
    // its further independent faults and without the parts that it spared, which would make it look more certain than it is. The leaders
    // get both here. True when a new leader may have come up.
    bool add_variants() {
        const double best = m_weighing.top();
        bool added = false;
        std::vector<Candidate> leaders;
        for (const auto& c : m_weighing.candidates())
            if (c.ln_weight >= best + std::log(kLeaderShare) && !m_extended.contains(c.set)) leaders.push_back(c);
        std::stable_sort(leaders.begin(), leaders.end(), [](const Candidate& a, const Candidate& b) { return a.ln_weight > b.ln_weight; });
        std::size_t made = 0;
        for (const auto& c : leaders) {
            if (made > kMostVariants) break;
            m_extended.insert(c.set);
            std::vector<Scenario> more;
            const auto& steps = c.scenario->steps;
            for (std::size_t s = 1; s < steps.size(); ++s) {
                if (steps[s].cause == Cause::Root || steps[s].cause == Cause::Independent) continue;
                more.push_back(*c.scenario);
                more.back().prior *= practice().model_doubt / (1 - practice().model_doubt);
                more.back().steps.erase(more.back().steps.begin() + static_cast<long>(s));
            }
            if (auto later = without_its_cause(*c.scenario)) more.push_back(std::move(*later));
            for (auto& other : gone_on_otherwise(m_set.further, *c.scenario)) more.push_back(std::move(other));
            beside(*c.scenario, kLeastFurther, more);
            made += more.size();
            added = add(std::move(more), false, c.ln_weight - c.ln_alone) || added;
        }
        return added;
    }

    // With one further fault of at least these odds, and what that leads to.
    void beside(const Scenario& story, double least, std::vector<Scenario>& more) const {
        const Board& board = m_predictor.board();
        const auto broken = story.faults();
        const Beside beside = m_set.further.beside(board, story.steps);
        for (const auto& further : m_set.further.all()) {
            if (further.odds < least) break;
            const double odds = m_set.further.odds(board, beside, further);
            if (odds <= 0) continue;
            more.push_back(story);
            more.back().prior *= odds;
            add_further(board, broken, further, more.back());
        }
    }

    // The same story begun by its second fault: a rarer beginning is told apart less finely by the enumeration and may be missing there.
    std::optional<Scenario> without_its_cause(const Scenario& story) const {
        if (story.steps.size() < 2 || story.steps[0].cause != Cause::Root || story.steps[1].cause == Cause::Independent)
            return std::nullopt;
        const double first = m_set.further.odds(story.steps[0].fault), second = m_set.further.odds(story.steps[1].fault);
        if (first <= 0 || second <= 0) return std::nullopt;
        Scenario out = story;
        out.prior *= std::min(1.0, second / (first * practice().leads_on));
        out.steps.erase(out.steps.begin());
        out.steps.front() = {out.steps.front().fault, Cause::Root, 0, 0, 0};
        return out;
    }

    // Neighbours of the leaders that misfit. True when something new was added.
    bool grow() {
        const auto candidates = m_weighing.candidates();
        std::vector<std::size_t> order(candidates.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        const std::size_t leaders = std::min<std::size_t>(3, order.size());
        std::partial_sort(order.begin(), order.begin() + static_cast<long>(leaders), order.end(),
                          [&](std::size_t a, std::size_t b) { return candidates[a].ln_weight > candidates[b].ln_weight; });
        bool added = false;
        for (std::size_t k = 0; k < leaders; ++k) {
            const Candidate candidate = candidates[order[k]];
            const Scenario& leader = *candidate.scenario;
            const auto misfits = m_weighing.misfits(candidate);
            if (misfits.empty()) continue;
            std::vector<Scenario> grown;
            beside(leader, 0, grown);
            for (const auto& [fault, odds] : m_set.further.by_fault()) { // the same part in another way
                Scenario other = leader;
                const auto same =
                    std::find_if(other.steps.begin(), other.steps.end(), [&](const Step& s) { return s.fault.part == fault.part; });
                if (same == other.steps.end() || same->fault == fault) continue;
                const double old = m_set.further.odds(same->fault);
                if (old > 0) other.prior *= std::min(1.0, odds / old);
                same->fault = fault;
                grown.push_back(std::move(other));
            }
            for (std::size_t s = 0; s < leader.steps.size(); ++s) {
                Scenario fewer = leader;
                fewer.steps.erase(fewer.steps.begin() + static_cast<long>(s));
                fewer.prior *= practice().fault_less; // the chain says it should have failed too
                if (!fewer.steps.empty()) grown.push_back(std::move(fewer));
            }
            keep_what_helps(candidate.set, misfits, grown);
            exchange(leader, grown);
            added = add(std::move(grown), true, candidate.ln_weight - candidate.ln_alone) || added;
        }
        return added;
    }

    // Where a further fault helps, one that was taken in for want of it may go.
    void exchange(const Scenario& leader, std::vector<Scenario>& grown) const {
        const std::size_t steps = leader.steps.size(), helping = grown.size();
        for (std::size_t k = 0; k < helping; ++k) {
            if (grown[k].steps.size() <= steps) continue;
            for (std::size_t s = 1; s < steps; ++s) {
                const double odds = m_set.further.odds(leader.steps[s].fault);
                if (leader.steps[s].cause != Cause::Independent || odds <= 0) continue;
                grown.push_back(grown[k]);
                grown.back().prior /= odds;
                grown.back().steps.erase(grown.back().steps.begin() + static_cast<long>(s));
            }
        }
    }

    // Only those that explain one of these observations better than the leader does.
    void keep_what_helps(SetId leader, const std::vector<std::size_t>& misfits, std::vector<Scenario>& grown) const {
        auto sets = m_predictor.ids(grown);
        sets.push_back(leader);
        std::vector<char> helps(grown.size(), 0);
        for (std::size_t o : misfits) {
            const auto& seen = m_weighing.seen()[o];
            auto left = sets;
            if (!seen.renewed.empty())
                for (SetId& s : left) s = m_predictor.without(s, seen.renewed);
            const auto told = m_predictor.predict_all(seen.query, left);
            const double least = kHelps * reading_likelihood(practice(), seen, *told.back());
            for (std::size_t k = 0; k < grown.size(); ++k)
                if (helps[k] == 0 && reading_likelihood(practice(), seen, *told[k]) > least) helps[k] = 1;
        }
        std::size_t kept = 0;
        for (std::size_t k = 0; k < grown.size(); ++k)
            if (helps[k] != 0) std::swap(grown[kept++], grown[k]);
        grown.resize(kept);
    }

    // Odds that none of the scenarios is true, from how many of the readings the leader misfits although it was let grow: readings go wrong
    // at the blunder rate, a wrong story misfits more often.
    double wrong_story_odds(std::size_t misfit) const {
        const auto& seen = m_weighing.seen();
        const auto& p = practice();
        const auto readings =
            static_cast<std::size_t>(std::count_if(seen.begin(), seen.end(), [](const Observation& o) { return o.kind == Seen::Reading; }));
        if (misfit == 0) return 0;
        return p.wrong_story / (1 - p.wrong_story) * std::pow(p.wrong_misfits / p.blunder, static_cast<double>(misfit)) *
               std::pow((1 - p.wrong_misfits) / (1 - p.blunder), static_cast<double>(readings - misfit));
    }

    Result<Assessment> summary() {
        const auto& candidates = m_weighing.candidates();
        double ln_reserve = std::log(m_set.reserve);
        for (const auto& seen : m_weighing.seen()) ln_reserve += std::log(unexplained_likelihood(practice(), seen));
        double top = ln_reserve;
        for (const auto& c : candidates) top = std::max(top, c.ln_weight);
        double sum = std::exp(ln_reserve - top);
        for (const auto& c : candidates) sum += std::exp(c.ln_weight - top);
        Assessment out;
        std::vector<std::size_t> order(candidates.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
            const auto &x = candidates[a], &y = candidates[b];
            return x.ln_weight != y.ln_weight ? x.ln_weight > y.ln_weight : x.scenario->steps.size() < y.scenario->steps.size();
        });
        if (!order.empty())
            for (std::size_t i : m_weighing.misfits(candidates[order.front()])) out.contradicted_by.push_back(m_weighing.seen()[i].entry);
        const double doubt = wrong_story_odds(out.contradicted_by.size()) * sum;
        const double ln_sum = top + std::log(sum + doubt);
        out.unexplained = (std::exp(ln_reserve - top) + doubt) / (sum + doubt);
        double carried = 0;
        for (std::size_t i : order) {
            const auto& c = candidates[i];
            const double p = std::exp(c.ln_weight - ln_sum);
            if (c.scenario->steps.empty()) out.supply_good = p;
            if (out.stories.size() < 40 && p > 0.001) out.stories.push_back({p, *c.scenario, c.grown});
            if (carried < 0.9995 && p > 1e-8) out.posterior.emplace_back(p, *c.scenario);
            carried += p;
        }
        for (std::size_t k = 0; k < std::min(kTold, out.stories.size()); ++k) tell(out.stories[k].scenario);
        beliefs(ln_sum, out);
        return out;
    }

    void tell(Scenario& story) {
        const auto& board = m_predictor.board();
        const auto steps = story.steps;
        for (const auto& s : steps) {
            if (s.cause != Cause::Independent) continue;
            auto& known = m_consequences[s.fault];
            if (!known) known = slow_consequences(board, m_predictor.roles(), s.fault, m_evidence.history);
            tell_cause_first(practice(), *known, s.fault, story);
        }
    }

    // Odds after each observation in the order of the journal: what each one moved, given what was known before it. By observation (first:
    // before any), by part.
    std::vector<std::vector<double>> history() const {
        const auto& seen = m_weighing.seen();
        const Histories& histories = m_weighing.histories();
        std::vector<int> parts; // of all lines, one after the other
        std::vector<std::size_t> first;
        for (const auto* list : m_predictor.parts(histories.set)) {
            first.push_back(parts.size());
            parts.insert(parts.end(), list->begin(), list->end());
        }
        first.push_back(parts.size());
        auto weights = histories.ln_prior;
        std::vector<std::size_t> lines(weights.size());
        std::iota(lines.begin(), lines.end(), std::size_t{0});
        std::vector<std::vector<double>> after(seen.size() + 1, std::vector<double>(m_predictor.board().parts.size(), 0.0));
        double reserve = std::log(m_set.reserve);
        for (std::size_t o = 0; o <= seen.size(); ++o) {
            if (o > 0) {
                reserve += std::log(unexplained_likelihood(practice(), seen[o - 1]));
                std::erase_if(lines, [&](std::size_t l) { return histories.length[l] < static_cast<int>(o); });
                for (std::size_t l : lines) weights[l] += histories.of(l)[o - 1];
            }
            double highest = reserve;
            for (std::size_t l : lines) highest = std::max(highest, weights[l]);
            double total = std::exp(reserve - highest);
            for (std::size_t l : lines) {
                if (weights[l] < highest - kForgotten) continue;
                const double w = std::exp(weights[l] - highest);
                total += w;
                for (std::size_t i = first[l]; i < first[l + 1]; ++i) after[o][static_cast<std::size_t>(parts[i])] += w;
            }
            for (double& w : after[o]) w /= total;
        }
        return after;
    }

    void beliefs(double ln_sum, Assessment& out) {
        const auto& board = m_predictor.board();
        const auto& seen = m_weighing.seen();
        const std::size_t count = board.parts.size();
        std::vector<std::map<Fault, double>> by_fault(count);
        for (const auto& c : m_weighing.candidates()) {
            const double p = std::exp(c.ln_weight - ln_sum);
            if (p < 1e-9) continue;
            for (const auto& f : c.scenario->faults()) by_fault[static_cast<std::size_t>(f.part)][f] += p;
        }
        const auto after = history();
        const auto ln_odds = [](double p) { return 10 * std::log10(std::clamp(p, 1e-6, 1 - 1e-6) / (1 - std::clamp(p, 1e-6, 1 - 1e-6))); };
        for (std::size_t i = 0; i < count; ++i) {
            PartBelief b;
            b.part = static_cast<int>(i);
            b.leading = {b.part, modes_of(board.parts[i].kind).front(), {}};
            double best = -1;
            const bool renewed = m_evidence.renewed.contains(b.part);
            for (const auto& [fault, p] : by_fault[i]) {
                b.modes[fault.mode] += p;
                b.bad += p;
                if (p > best) {
                    best = p;
                    b.leading = fault;
                }
            }
            b.bad = std::min(b.bad, 1.0);
            if (renewed) {
                b.bad = practice().new_part_bad;
                b.modes.clear();
            }
            b.settled_cold = settled_cold(board, b.leading);
            for (std::size_t o = 0; o < seen.size() && !renewed; ++o) {
                const double change = ln_odds(after[o + 1][i]) - ln_odds(after[o][i]);
                if (std::fabs(change) > 0.5) b.reasons.push_back({seen[o].entry, change});
            }
            std::stable_sort(b.reasons.begin(), b.reasons.end(),
                             [](const Reason& a, const Reason& c) { return std::fabs(a.decibans) > std::fabs(c.decibans); });
            out.parts.push_back(std::move(b));
        }
        std::stable_sort(out.parts.begin(), out.parts.end(), [](const PartBelief& a, const PartBelief& b) { return a.bad > b.bad; });
    }

    const Predictor& m_predictor;
    Weighed* m_memory;
    const Hypotheses& m_hypotheses;
    const ScenarioSet& m_set;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    Weighing m_weighing;
    std::map<Fault, std::optional<std::vector<Consequence>>> m_consequences;
    std::deque<Scenario> m_made; ///< grown and extended ones
    std::set<SetId> m_extended;  ///< whose variants are among the candidates
};

} // namespace

const PartBelief& Assessment::belief(int part) const {
    return *std::find_if(parts.begin(), parts.end(), [&](const PartBelief& b) { return b.part == part; });
}

bool settled_cold(const Board& board, const Fault& fault) {
    return changes_dc(board, fault) || fault.mode == FaultMode::Dry || fault.mode == FaultMode::Low ||
           (fault.mode == FaultMode::Open && is_capacitor(board.part(fault.part).kind));
}

Hypotheses Hypotheses::of(const Predictor& predictor, std::shared_ptr<const ScenarioSet> scenarios) {
    auto sets = predictor.ids(scenarios->scenarios);
    return {std::move(scenarios), std::move(sets)};
}

Result<bool> prepare_assess(const Predictor& predictor, const Hypotheses& hypotheses, const std::vector<Query>& queries,
                            const CancelToken& cancel) {
    constexpr std::size_t together = 64; // short holds of the predictor's lock: others may want an answer
    for (std::size_t start = 0; start < hypotheses.sets.size(); start += together) {
        const auto end = std::min(start + together, hypotheses.sets.size());
        const std::vector<SetId> some(hypotheses.sets.begin() + static_cast<long>(start), hypotheses.sets.begin() + static_cast<long>(end));
        for (const auto& q : queries) {
            if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
            predictor.predict_all(q, some);
        }
        for (SetId set : some) predictor.behaviour(set);
    }
    return true;
}

Result<Assessment> assess(const Predictor& predictor, const FaultLibrary& library, const Hypotheses& hypotheses, const Evidence& evidence,
                          const AssessOptions& options, const CancelToken& cancel, Weighed* memory) {
    return Assessor(predictor, library, hypotheses, evidence, cancel, memory).run(options);
}

Result<Assessment> assess(const Predictor& predictor, const FaultLibrary& library, const ScenarioSet& set, const Evidence& evidence,
                          const AssessOptions& options, const CancelToken& cancel) {
    return assess(predictor, library, Hypotheses::of(predictor, std::make_shared<ScenarioSet>(set)), evidence, options, cancel);
}

} // namespace ohmo
