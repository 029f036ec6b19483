// SPDX-License-Identifier: GPL-3.0-or-later
#include "posterior/weighing.h"

#include "damage/blast.h"
#include "readings/words.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>
#include <unordered_map>

namespace ohmo {
namespace {

constexpr double kMisfit = 3.0;
constexpr double kWorthCorrelating = 1e-7; // of the likeliest: scenarios whose readings are scored together
constexpr double kFarBehind = 12;          // of those made later: no more than this below the likeliest, as a power of e
constexpr std::size_t kFirst = 32;         // of a batch: weighed first, so that the others have something to be measured against

double ln(double likelihood) { return std::log(std::max(likelihood, 1e-300)); }

bool on_running_unit(Seen kind) { return kind == Seen::Symptom || kind == Seen::LiveVolts || kind == Seen::LiveRipple; }

} // namespace

Weighing::Weighing(const Predictor& predictor, const FaultLibrary& library, std::vector<Observation> seen, CancelToken cancel)
    : m_predictor(predictor), m_library(library), m_seen(std::move(seen)), m_cancel(std::move(cancel)), m_rest(m_seen.size() + 1, 0.0),
      m_by_class(m_seen.size()) {
    m_histories.observations = m_seen.size();
    for (std::size_t o = m_seen.size(); o-- > 0;) m_rest[o] = m_rest[o + 1] + most_likely(m_seen[o]);
}

// Logarithm of a bound that no likelihood of this observation exceeds.
double Weighing::most_likely(const Observation& seen) const {
    if (seen.kind == Seen::LiveVolts || seen.kind == Seen::LiveRipple) return std::log(40.0);
    if (seen.kind != Seen::Reading || seen.over || seen.query.what == Quantity::Continuity) return 0;
    return std::log(1 / (least_sigma(m_predictor.board().practice(), seen.query.what,
                                     m_predictor.meters()[static_cast<std::size_t>(seen.query.meter)]) *
                         std::sqrt(2 * std::numbers::pi)) +
                    1);
}

// Scenarios that are added together, with what is known of them so far.
struct Weighing::Batch {
    struct Column {               ///< one observation, where the predictor is asked for all of them at once
        std::vector<SetId> sets;  ///< what was left of them by then; empty where the observation is no matter of sets
        std::vector<int> numbers; ///< of predictions
        std::vector<std::optional<Behaviour>> behaviours;
    };

    const Predictor& predictor;
    std::vector<const Scenario*> scenarios;
    std::vector<SetId> sets;
    std::vector<Column> columns;
    std::vector<Weighed::Column>* before = nullptr;
    std::vector<const std::vector<int>*> parts, members; ///< with a fault, and the fault's number; once they are asked for

    void ask(std::size_t o, const Observation& seen) {
        Column& column = columns[o];
        if (seen.kind != Seen::Reading && !on_running_unit(seen.kind)) return;
        column.sets = sets;
        if (!seen.renewed.empty())
            for (SetId& s : column.sets) s = predictor.without(s, seen.renewed);
        if (seen.kind == Seen::Reading)
            column.numbers = predictor.remembered(seen.query, column.sets);
        else
            column.behaviours = predictor.remembered_behaviour(column.sets);
    }
    SetId left(std::size_t o, const Observation& seen, std::size_t k) const {
        if (!columns[o].sets.empty()) return columns[o].sets[k];
        return seen.renewed.empty() ? sets[k] : predictor.without(sets[k], seen.renewed);
    }
    void list_parts() {
        if (!parts.empty()) return;
        parts = predictor.parts(sets);
        members = predictor.members(sets);
    }
};

template <class Compute>
double Weighing::remembered(std::size_t o, std::size_t number, Compute compute) {
    auto& known = m_by_class[o];
    if (known.size() <= number) known.resize(number + 64, std::nan(""));
    if (std::isnan(known[number])) known[number] = ln(compute());
    return known[number];
}

double Weighing::likelihood(std::size_t o, int number, SetId set) {
    return remembered(o, static_cast<std::size_t>(number), [&] {
        return reading_likelihood(m_predictor.board().practice(), m_seen[o], m_predictor.predict(m_seen[o].query, set));
    });
}

// The likelihoods of all these predictions, in one call of the predictor.
void Weighing::ask_together(std::size_t o, const std::vector<int>& numbers, const std::vector<SetId>& sets) {
    auto& known = m_by_class[o];
    std::vector<SetId> asked;
    for (std::size_t k = 0; k < numbers.size(); ++k) {
        if (numbers[k] < 0) continue;
        const auto number = static_cast<std::size_t>(numbers[k]);
        if (known.size() <= number) known.resize(number + 64, std::nan(""));
        if (!std::isnan(known[number])) continue;
        known[number] = 0;
        asked.push_back(sets[k]);
    }
    if (asked.empty()) return;
    for (const auto* p : m_predictor.predict_all(m_seen[o].query, asked))
        known[static_cast<std::size_t>(p->number)] = ln(reading_likelihood(m_predictor.board().practice(), m_seen[o], *p));
}

// Logarithm of the likelihood of an observation under a scenario of the batch.
double Weighing::fit(std::size_t o, Batch& batch, std::size_t k) {
    double* before = batch.before != nullptr ? &(*batch.before)[o].ln_likelihood[k] : nullptr;
    if (before != nullptr && !std::isnan(*before)) return *before;
    double ln_likelihood = 0;
    if (m_seen[o].kind == Seen::Reading) {
        auto& numbers = batch.columns[o].numbers;
        const SetId left = batch.left(o, m_seen[o], k);
        int number = numbers.empty() ? -1 : numbers[k];
        if (number < 0) number = m_predictor.predict(m_seen[o].query, left).number;
        if (!numbers.empty()) numbers[k] = number;
        ln_likelihood = likelihood(o, number, left);
    } else {
        ln_likelihood = other(o, batch, k);
    }
    if (before != nullptr) *before = ln_likelihood;
    return ln_likelihood;
}

double Weighing::other(std::size_t o, Batch& batch, std::size_t k) {
    const auto& seen = m_seen[o];
    const auto of = [&](const std::vector<Fault>& faults, const Behaviour& b) {
        return other_likelihood(m_predictor.board(), m_library, seen, faults, b);
    };
    const Scenario& scenario = *batch.scenarios[k];
    if (seen.kind == Seen::LiveVolts || seen.kind == Seen::LiveRipple)
        return ln(live_likelihood(m_predictor.board(), m_predictor.roles(), seen, m_predictor.figures(batch.left(o, seen, k))));
    if (on_running_unit(seen.kind)) {
        const auto& known = batch.columns[o].behaviours;
        Behaviour b = !known.empty() && known[k] ? *known[k] : m_predictor.behaviour(batch.left(o, seen, k));
        b.violent = b.violent || std::any_of(scenario.steps.begin(), scenario.steps.end(), [&](const Step& s) {
                        return broken_with_noise(s.cause) && !seen.renewed.contains(s.fault.part);
                    });
        return remembered(o, static_cast<std::size_t>(b.running) * 4 + (b.violent ? 2 : 0) + (b.fuse_open ? 1 : 0),
                          [&] { return of({}, b); });
    }
    const bool by_part = seen.kind == Seen::Look || seen.kind == Seen::Verdict; // what the others have does not matter
    batch.list_parts();
    const auto &parts = *batch.parts[k], &members = *batch.members[k];
    for (std::size_t i = 0; i < parts.size(); ++i) {
        if (parts[i] != seen.part && std::find(seen.area.begin(), seen.area.end(), parts[i]) == seen.area.end()) continue;
        if (!by_part) return ln(of(scenario.faults(), {}));
        return remembered(o, static_cast<std::size_t>(members[i]) + 1, [&] { return of({m_predictor.fault(members[i])}, {}); });
    }
    if (seen.kind == Seen::Look && m_predictor.board().part(seen.part).place) { // soot comes from the neighbours
        const auto faults = scenario.faults();
        if (blast_on(m_predictor.board(), faults, seen.part).share > 0) return ln(of(faults, {}));
    }
    return remembered(o, 0, [&] { return of({}, {}); });
}

double Weighing::top() const {
    double out = -1e300;
    for (const auto& c : m_candidates) out = std::max(out, c.ln_weight);
    return out;
}

// Takes those that are new, or likelier than the chain of the same set that was added before.
void Weighing::take(const std::vector<const Scenario*>& scenarios, const std::vector<SetId>& sets, Batch& batch) {
    for (std::size_t k = 0; k < scenarios.size(); ++k) {
        const auto id = static_cast<std::size_t>(sets[k]);
        if (m_line.size() <= id) m_line.resize(std::max(id + 1, 2 * m_line.size()), -1);
        if (m_line[id] >= 0) {
            const auto line = static_cast<std::size_t>(m_line[id]), start = m_histories.length.size();
            if (line >= start) { // twice in this batch
                auto& other = batch.scenarios[line - start];
                if (other->prior < scenarios[k]->prior) other = scenarios[k];
                continue;
            }
            if (ln(scenarios[k]->prior) <= m_histories.ln_prior[line]) continue;
            m_histories.length[line] = 0; // the older chain counts no more
            m_histories.ln_prior[line] = ln(0);
            std::erase_if(m_candidates, [&](const Candidate& c) { return c.line == line; });
        }
        m_line[id] = static_cast<int>(m_histories.length.size() + batch.sets.size());
        batch.scenarios.push_back(scenarios[k]);
        batch.sets.push_back(sets[k]);
    }
}

// By scenario of the batch, those that look likeliest by what is remembered first; the order decides the time taken only.
std::vector<std::size_t> Weighing::likeliest_first(Batch& batch) {
    const std::size_t count = batch.sets.size();
    std::vector<double> promise(count);
    for (std::size_t k = 0; k < count; ++k) promise[k] = ln(batch.scenarios[k]->prior);
    m_histories.ln_prior.insert(m_histories.ln_prior.end(), promise.begin(), promise.end());
    for (std::size_t o = 0; o < m_seen.size(); ++o) {
        if (batch.before != nullptr && (*batch.before)[o].asked) {
            const auto& known = (*batch.before)[o].ln_likelihood;
            for (std::size_t k = 0; k < count; ++k) promise[k] += std::isnan(known[k]) ? -2 : known[k];
            continue;
        }
        batch.ask(o, m_seen[o]);
        ask_together(o, batch.columns[o].numbers, batch.columns[o].sets);
        for (std::size_t k = 0; k < batch.columns[o].numbers.size(); ++k) {
            const int number = batch.columns[o].numbers[k];
            promise[k] += number >= 0 ? likelihood(o, number, batch.columns[o].sets[k]) : -2;
        }
        if (batch.before != nullptr) (*batch.before)[o].asked = true;
    }
    std::vector<std::size_t> order(count);
    std::iota(order.begin(), order.end(), std::size_t{0});
    std::partial_sort(order.begin(), order.begin() + static_cast<long>(std::min(kFirst, order.size())), order.end(),
                      [&](std::size_t a, std::size_t b) { return promise[a] != promise[b] ? promise[a] > promise[b] : a < b; });
    return order;
}

bool Weighing::add(const std::vector<const Scenario*>& scenarios, const std::vector<SetId>& sets, bool grown, double credit,
                   Weighed* before) {
    credit = std::max(credit, 0.0);
    const double top = this->top();
    const auto least = [&] { return std::max(m_best - kNegligible, top - kFarBehind) - credit; };
    Batch batch{m_predictor, {}, {}, std::vector<Batch::Column>(m_seen.size()), nullptr, {}, {}};
    take(scenarios, sets, batch);
    if (batch.sets.empty()) return false;
    if (before != nullptr) batch.before = &before->of(m_seen, batch.sets.size());
    const std::size_t count = batch.sets.size(), observations = m_seen.size(), start = m_histories.length.size();
    m_histories.set.insert(m_histories.set.end(), batch.sets.begin(), batch.sets.end());
    m_histories.length.resize(start + count, 0);
    m_histories.ln_likelihood.resize((start + count) * observations);
    std::vector<std::size_t> kept;
    for (std::size_t k : likeliest_first(batch)) {
        if (m_cancel.cancelled()) return false;
        const std::size_t line = start + k;
        double* values = m_histories.of(line);
        double weight = m_histories.ln_prior[line];
        std::size_t o = 0;
        for (; o < observations && weight + m_rest[o] >= least(); ++o) {
            values[o] = fit(o, batch, k);
            weight += values[o];
        }
        m_histories.length[line] = static_cast<int>(o);
        if (o < observations || weight < least()) continue;
        m_best = std::max(m_best, weight);
        kept.push_back(k);
    }
    std::sort(kept.begin(), kept.end()); // sums come out the same whatever was remembered
    for (std::size_t k : kept) {
        const std::size_t line = start + k;
        double weight = m_histories.ln_prior[line];
        for (std::size_t o = 0; o < observations; ++o) weight += m_histories.of(line)[o];
        if (weight >= least())
            m_candidates.push_back(
                {batch.scenarios[k], batch.sets[k], m_histories.ln_prior[line], weight, weight, credit, line, grown, false});
    }
    return true;
}

void Weighing::settle() {
    std::erase_if(m_candidates, [&](const Candidate& c) { return c.ln_alone + c.credit < m_best - kNegligible; });
    std::vector<char> kept(m_histories.length.size(), 0);
    for (const auto& c : m_candidates) kept[c.line] = 1;
    for (std::size_t line = 0; line < kept.size(); ++line) {
        if (kept[line] != 0) continue;
        double weight = m_histories.ln_prior[line];
        int until = 0;
        while (until < m_histories.length[line] && weight + m_rest[static_cast<std::size_t>(until)] >= m_best - kNegligible)
            weight += m_histories.of(line)[until++];
        m_histories.length[line] = until;
    }
}

std::vector<std::size_t> Weighing::misfits(const Candidate& c) const {
    std::vector<std::size_t> out;
    for (std::size_t o = 0; o < m_seen.size(); ++o) {
        const auto& seen = m_seen[o];
        if (seen.kind != Seen::Reading) continue;
        const SetId set = seen.renewed.empty() ? c.set : m_predictor.without(c.set, seen.renewed);
        if (reading_misfit(m_predictor.board().practice(), seen, m_predictor.predict(seen.query, set)) > kMisfit) out.push_back(o);
    }
    return out;
}

// All that matter, not a few leaders: what is scored together comes out likelier than what is not.
void Weighing::correlate() {
    const double top = this->top();
    std::vector<Candidate*> all;
    std::vector<SetId> sets;
    for (auto& c : m_candidates) {
        // The leader may have been scored with its readings taken together and this one not yet: then compare both as independent readings.
        if (c.correlated || std::max(c.ln_weight + c.credit - top, c.ln_alone - m_best) < std::log(kWorthCorrelating)) continue;
        c.correlated = true;
        all.push_back(&c);
        sets.push_back(c.set);
    }
    std::vector<std::vector<const Prediction*>> columns(m_seen.size()); // by observation, by candidate
    for (std::size_t o = 0; o < m_seen.size(); ++o) {
        if (m_cancel.cancelled()) return;
        if (m_seen[o].kind != Seen::Reading) continue;
        auto left = sets;
        if (!m_seen[o].renewed.empty())
            for (SetId& s : left) s = m_predictor.without(s, m_seen[o].renewed);
        columns[o] = m_predictor.predict_all(m_seen[o].query, left);
    }
    using Places = std::vector<int>;                                        // observation and number of its prediction, by turns
    std::unordered_map<Places, std::vector<double>, FaultSets::Hash> known; // many scenarios predict the same
    Places readings;
    std::vector<std::pair<const Observation*, const Prediction*>> together;
    for (std::size_t k = 0; k < all.size(); ++k) {
        readings.clear();
        together.clear();
        for (std::size_t o = 0; o < m_seen.size(); ++o) {
            if (columns[o].empty() || !shares_tolerances(m_seen[o], *columns[o][k])) continue;
            readings.insert(readings.end(), {static_cast<int>(o), columns[o][k]->number});
            together.emplace_back(&m_seen[o], columns[o][k]);
        }
        if (together.size() < 2) continue;
        auto& joint = known[readings];
        if (joint.empty()) joint = joint_ln_likelihood(m_predictor.board().practice(), together);
        for (std::size_t r = 0; r < joint.size(); ++r) {
            double& old = m_histories.of(all[k]->line)[readings[2 * r]];
            all[k]->ln_weight += joint[r] - old;
            old = joint[r];
        }
    }
}

} // namespace ohmo
