// SPDX-License-Identifier: GPL-3.0-or-later
// Method: Bayes over the enumerated scenarios, logs throughout. When the leader misfits a reading, its neighbours with one fault more, one
// fewer or one exchanged are generated and scored, until the leader fits or nothing improves. Repeated readings of one place in one state
// count once (the last). Scenarios that matter are scored again with what their readings share of part tolerances.
#include "diagnosis/assess.h"

#include "diagnosis/likelihood.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <set>

namespace ohmo {
namespace {

constexpr double kMisfit = 3.0;
// A leader that keeps misfitting although it was let grow: readings go wrong at the blunder rate, a wrong story misfits more often.
constexpr double kWrongStory = 0.05, kWrongMisfits = 0.07;
constexpr double kLeaderShare = 0.3; // of the likeliest: scenarios that get their further independent faults
constexpr std::size_t kMostSecondFaults = 600;
constexpr double kWorthCorrelating = 1e-7; // of the likeliest: scenarios whose readings are scored together
constexpr double kNewPartBad = 0.01;       // a replaced part that has not been measured yet

struct Candidate {
    Scenario scenario;
    std::vector<Fault> faults;
    std::vector<double> ln_likelihood; // by observation
    double ln_weight = 0;
    bool grown = false, correlated = false;
};

class Assessor {
public:
    Assessor(const Predictor& predictor, const FaultLibrary& library, const ScenarioSet& set, const Evidence& evidence,
             const CancelToken& cancel)
        : m_predictor(predictor), m_library(library), m_set(set), m_evidence(evidence), m_cancel(cancel) {
        const auto& all = evidence.observations;
        for (std::size_t i = 0; i < all.size(); ++i) {
            const bool repeated = all[i].kind == Seen::Reading &&
                                  std::any_of(all.begin() + static_cast<long>(i) + 1, all.end(), [&](const Observation& later) {
                                      return later.kind == Seen::Reading && later.query == all[i].query && later.renewed == all[i].renewed;
                                  });
            if (!repeated) m_seen.push_back(all[i]);
        }
    }

    Result<Assessment> run(const AssessOptions& options) {
        add(m_set.scenarios, false);
        correlate();
        for (int round = 0; round < options.growth_rounds && grow(); ++round) correlate();
        for (int round = 0; round < options.growth_rounds && add_second_faults(); ++round) correlate();
        if (m_cancel.cancelled()) return cancelled();
        return summary();
    }

private:
    static Problem cancelled() { return {ProblemKind::Cancelled, {}, {}, {}, 0, false}; }

    std::vector<Fault> present(const std::vector<Fault>& faults, const std::set<int>& renewed) const {
        if (renewed.empty()) return faults;
        std::vector<Fault> out;
        for (const auto& f : faults)
            if (!renewed.contains(f.part)) out.push_back(f);
        return out;
    }

    void add(const std::vector<Scenario>& scenarios, bool grown) {
        const std::size_t first = m_candidates.size();
        std::vector<std::vector<Fault>> sets;
        for (const auto& scenario : scenarios) {
            if (m_cancel.cancelled()) return;
            m_known[scenario.key()] = m_candidates.size();
            m_candidates.push_back(
                {scenario, scenario.faults(), std::vector<double>(m_seen.size()), std::log(std::max(scenario.prior, 1e-300)), grown});
            sets.push_back(m_candidates.back().faults);
        }
        for (std::size_t o = 0; o < m_seen.size(); ++o) {
            const auto& seen = m_seen[o];
            if (m_cancel.cancelled()) return;
            const bool reading = seen.kind == Seen::Reading;
            std::vector<std::vector<Fault>> left;
            if (reading && !seen.renewed.empty())
                for (const auto& faults : sets) left.push_back(present(faults, seen.renewed));
            const auto predictions =
                reading ? m_predictor.predict_all(seen.query, seen.renewed.empty() ? sets : left) : std::vector<const Prediction*>();
            const bool live = seen.kind == Seen::Symptom || seen.kind == Seen::LiveVolts;
            for (std::size_t k = 0; k < sets.size(); ++k) {
                Candidate& c = m_candidates[first + k];
                const double l = reading ? reading_likelihood(seen, *predictions[k])
                                         : other_likelihood(m_predictor.board(), m_library, seen, c.faults,
                                                            live ? m_predictor.behaviour(c.scenario, seen.renewed) : Behaviour{});
                c.ln_likelihood[o] = std::log(std::max(l, 1e-300));
                c.ln_weight += c.ln_likelihood[o];
            }
        }
    }

    std::vector<std::size_t> misfits(const Candidate& c) const {
        std::vector<std::size_t> out;
        for (std::size_t i = 0; i < m_seen.size(); ++i)
            if (m_seen[i].kind == Seen::Reading &&
                reading_misfit(m_seen[i], m_predictor.predict(m_seen[i].query, present(c.faults, m_seen[i].renewed))) > kMisfit)
                out.push_back(i);
        return out;
    }

    // Independent readings would count one part's deviation as often as it is read.
    void correlate() {
        // All that matter, not a few leaders: what is scored together comes out likelier than what is not.
        double top = -1e300;
        for (const auto& c : m_candidates) top = std::max(top, c.ln_weight);
        std::vector<std::size_t> order;
        for (std::size_t i = 0; i < m_candidates.size(); ++i)
            if (!m_candidates[i].correlated && m_candidates[i].ln_weight > top + std::log(kWorthCorrelating)) order.push_back(i);
        const std::size_t leaders = order.size();
        std::vector<std::vector<std::pair<std::size_t, const Prediction*>>> readings(leaders); // by leader: observation, prediction
        for (std::size_t o = 0; o < m_seen.size(); ++o) {
            if (m_seen[o].kind != Seen::Reading) continue;
            if (m_cancel.cancelled()) return;
            std::vector<std::vector<Fault>> sets;
            for (std::size_t i : order) sets.push_back(present(m_candidates[i].faults, m_seen[o].renewed));
            const auto predictions = m_predictor.predict_all(m_seen[o].query, sets);
            for (std::size_t k = 0; k < leaders; ++k)
                if (shares_tolerances(m_seen[o], *predictions[k])) readings[k].emplace_back(o, predictions[k]);
        }
        std::map<std::vector<std::pair<std::size_t, const Prediction*>>, std::vector<double>> known; // many scenarios predict the same
        for (std::size_t k = 0; k < leaders; ++k) {
            m_candidates[order[k]].correlated = true;
            if (readings[k].size() < 2) continue;
            auto& joint = known[readings[k]];
            if (joint.empty()) {
                std::vector<std::pair<const Observation*, const Prediction*>> together;
                for (const auto& [o, p] : readings[k]) together.emplace_back(&m_seen[o], p);
                joint = joint_ln_likelihood(together);
            }
            Candidate& c = m_candidates[order[k]];
            for (std::size_t r = 0; r < joint.size(); ++r) {
                double& old = c.ln_likelihood[readings[k][r].first];
                c.ln_weight += joint[r] - old;
                old = joint[r];
            }
        }
    }

    // The enumeration stops at a number of scenarios, so a likely but long chain is there without its further independent faults, which
    // would make it look more certain than it is. The leaders get them here. True when a new leader may have come up.
    bool add_second_faults() {
        double top = -1e300;
        for (const auto& c : m_candidates) top = std::max(top, c.ln_weight);
        std::vector<Scenario> more;
        std::set<std::vector<Fault>> keys;
        for (std::size_t i = 0; i < m_candidates.size(); ++i) {
            const auto& c = m_candidates[i];
            if (c.ln_weight < top + std::log(kLeaderShare) || !m_extended.insert(c.scenario.key()).second) continue;
            for (const auto& [fault, odds] : m_set.odds) {
                const bool has = std::any_of(c.faults.begin(), c.faults.end(), [&](const Fault& f) { return f.part == fault.part; });
                if (has) continue;
                Scenario s = c.scenario;
                s.prior *= odds;
                s.steps.push_back({fault, Cause::Independent, 0, 0, 0});
                if (!m_known.contains(s.key()) && keys.insert(s.key()).second) more.push_back(std::move(s));
            }
            if (keys.size() > kMostSecondFaults) break;
        }
        add(more, false);
        return !more.empty();
    }

    // Neighbours of the leaders. True when something new was added.
    bool grow() {
        std::vector<std::size_t> order(m_candidates.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        const std::size_t leaders = std::min<std::size_t>(3, order.size());
        std::partial_sort(order.begin(), order.begin() + static_cast<long>(leaders), order.end(),
                          [&](std::size_t a, std::size_t b) { return m_candidates[a].ln_weight > m_candidates[b].ln_weight; });
        const auto before = m_candidates.size();
        for (std::size_t k = 0; k < leaders; ++k) {
            const Scenario leader = m_candidates[order[k]].scenario;
            std::vector<Scenario> grown;
            std::set<std::vector<Fault>> keys;
            const auto keep = [&](Scenario s) {
                if (!m_known.contains(s.key()) && keys.insert(s.key()).second) grown.push_back(std::move(s));
            };
            if (misfits(m_candidates[order[k]]).empty()) continue;
            for (const auto& [fault, odds] : m_set.odds) {
                if (m_cancel.cancelled()) return false;
                Scenario more = leader;
                const auto same =
                    std::find_if(more.steps.begin(), more.steps.end(), [&](const Step& s) { return s.fault.part == fault.part; });
                if (same != more.steps.end()) {
                    if (same->fault == fault) continue;
                    const auto old = m_set.odds.find(same->fault);
                    more.prior *= std::min(1.0, odds / (old != m_set.odds.end() ? old->second : odds));
                    same->fault = fault;
                } else {
                    more.prior *= odds;
                    more.steps.push_back({fault, Cause::Independent, 0, 0, 0});
                }
                keep(std::move(more));
            }
            for (std::size_t s = 0; s < leader.steps.size(); ++s) {
                Scenario fewer = leader;
                fewer.steps.erase(fewer.steps.begin() + static_cast<long>(s));
                fewer.prior *= 0.05; // the chain says it should have failed too
                if (!fewer.steps.empty()) keep(std::move(fewer));
            }
            add(grown, true);
        }
        return m_candidates.size() > before;
    }

    // Odds that none of the scenarios is true, from how many of the readings the leader misfits.
    double wrong_story_odds(std::size_t misfit) const {
        const auto readings = static_cast<std::size_t>(
            std::count_if(m_seen.begin(), m_seen.end(), [](const Observation& o) { return o.kind == Seen::Reading; }));
        if (misfit == 0) return 0;
        return kWrongStory / (1 - kWrongStory) * std::pow(kWrongMisfits / kBlunder, static_cast<double>(misfit)) *
               std::pow((1 - kWrongMisfits) / (1 - kBlunder), static_cast<double>(readings - misfit));
    }

    Result<Assessment> summary() {
        double ln_reserve = std::log(m_set.reserve);
        for (const auto& seen : m_seen) ln_reserve += std::log(unexplained_likelihood(seen));
        double top = ln_reserve;
        for (const auto& c : m_candidates) top = std::max(top, c.ln_weight);
        double sum = std::exp(ln_reserve - top);
        for (const auto& c : m_candidates) sum += std::exp(c.ln_weight - top);
        Assessment out;
        std::vector<std::size_t> order(m_candidates.size());
        std::iota(order.begin(), order.end(), std::size_t{0});
        std::stable_sort(order.begin(), order.end(),
                         [&](std::size_t a, std::size_t b) { return m_candidates[a].ln_weight > m_candidates[b].ln_weight; });
        if (!order.empty())
            for (std::size_t i : misfits(m_candidates[order.front()])) out.contradicted_by.push_back(m_seen[i].entry);
        const double doubt = wrong_story_odds(out.contradicted_by.size()) * sum;
        const double ln_sum = top + std::log(sum + doubt);
        out.unexplained = (std::exp(ln_reserve - top) + doubt) / (sum + doubt);
        double carried = 0;
        for (std::size_t i : order) {
            const double p = std::exp(m_candidates[i].ln_weight - ln_sum);
            if (m_candidates[i].faults.empty()) out.supply_good = p;
            if (out.stories.size() < 40 && p > 0.001) out.stories.push_back({p, m_candidates[i].scenario, m_candidates[i].grown});
            if (carried < 0.9995 && p > 1e-6) out.posterior.emplace_back(p, m_candidates[i].scenario);
            carried += p;
        }
        beliefs(ln_sum, out);
        return out;
    }

    void beliefs(double ln_sum, Assessment& out) {
        const auto& board = m_predictor.board();
        const std::size_t count = board.parts.size();
        std::vector<std::map<Fault, double>> by_fault(count);
        for (const auto& c : m_candidates) {
            const double p = std::exp(c.ln_weight - ln_sum);
            if (p < 1e-9) continue;
            for (const auto& f : c.faults) by_fault[static_cast<std::size_t>(f.part)][f] += p;
        }
        // Odds after each observation in the order of the journal: what each one moved, given what was known before it.
        std::vector<std::vector<double>> after(m_seen.size() + 1, std::vector<double>(count, 0.0));
        std::vector<double> running(m_candidates.size());
        for (std::size_t c = 0; c < running.size(); ++c) running[c] = std::log(std::max(m_candidates[c].scenario.prior, 1e-300));
        double reserve = std::log(m_set.reserve);
        for (std::size_t o = 0; o <= m_seen.size(); ++o) {
            if (o > 0) {
                reserve += std::log(unexplained_likelihood(m_seen[o - 1]));
                for (std::size_t c = 0; c < running.size(); ++c) running[c] += m_candidates[c].ln_likelihood[o - 1];
            }
            const double highest = std::max(reserve, running.empty() ? reserve : *std::max_element(running.begin(), running.end()));
            double total = std::exp(reserve - highest);
            for (std::size_t c = 0; c < running.size(); ++c) {
                const double w = std::exp(running[c] - highest);
                if (w < 1e-12) continue;
                total += w;
                for (const auto& f : m_candidates[c].faults) after[o][static_cast<std::size_t>(f.part)] += w;
            }
            for (double& w : after[o]) w /= total;
        }
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
                b.bad = kNewPartBad;
                b.modes.clear();
            }
            b.settled_cold = settled_cold(board, b.leading);
            for (std::size_t o = 0; o < m_seen.size() && !renewed; ++o) {
                const double change = ln_odds(after[o + 1][i]) - ln_odds(after[o][i]);
                if (std::fabs(change) > 0.5) b.reasons.push_back({m_seen[o].entry, change});
            }
            std::stable_sort(b.reasons.begin(), b.reasons.end(),
                             [](const Reason& a, const Reason& c) { return std::fabs(a.decibans) > std::fabs(c.decibans); });
            out.parts.push_back(std::move(b));
        }
        std::stable_sort(out.parts.begin(), out.parts.end(), [](const PartBelief& a, const PartBelief& b) { return a.bad > b.bad; });
    }

    const Predictor& m_predictor;
    const FaultLibrary& m_library;
    const ScenarioSet& m_set;
    const Evidence& m_evidence;
    CancelToken m_cancel;
    std::vector<Observation> m_seen;
    std::vector<Candidate> m_candidates;
    std::map<std::vector<Fault>, std::size_t> m_known;
    std::set<std::vector<Fault>> m_extended; ///< scenarios whose second faults are among the candidates
};

} // namespace

const PartBelief& Assessment::belief(int part) const {
    return *std::find_if(parts.begin(), parts.end(), [&](const PartBelief& b) { return b.part == part; });
}

bool settled_cold(const Board& board, const Fault& fault) {
    return changes_dc(board, fault) || fault.mode == FaultMode::Dry || fault.mode == FaultMode::Low ||
           (fault.mode == FaultMode::Open && is_capacitor(board.part(fault.part).kind));
}

Result<Assessment> assess(const Predictor& predictor, const FaultLibrary& library, const ScenarioSet& set, const Evidence& evidence,
                          const AssessOptions& options, const CancelToken& cancel) {
    return Assessor(predictor, library, set, evidence, cancel).run(options);
}

} // namespace ohmo
