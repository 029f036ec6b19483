// SPDX-License-Identifier: GPL-3.0-or-later
// How well each scenario fits each observation. Internal to the assessment.
// Method: sums of log likelihoods with an upper bound for what is still to come; a scenario whose bound falls below the best by more than
// kNegligible is given up (branch and bound: A. H. Land and A. G. Doig, 1960). Readings that share part tolerances are scored together as
// one Gaussian. All weights are natural logarithms.
#pragma once
#include "base/cancel.h"
#include "damage/fault_library.h"
#include "posterior/weighed.h"
#include "readings/likelihood.h"

#include <vector>

namespace ohmo {

struct Candidate {
    const Scenario* scenario = nullptr;
    SetId set = -1;
    double ln_prior = 0;
    double ln_alone = 0;  ///< readings taken as independent
    double ln_weight = 0; ///< after correlate()
    double credit = 0;    ///< what readings taken together may add, by a scenario much like it
    std::size_t line = 0; ///< its history
    bool grown = false, correlated = false;
};

/// What each observation made of every scenario weighed, the ones given up included until then.
struct Histories {
    std::size_t observations = 0;
    std::vector<double> ln_likelihood; ///< by line, by observation
    std::vector<int> length;           ///< by line: observations that count
    std::vector<double> ln_prior;      ///< by line
    std::vector<SetId> set;            ///< by line

    double* of(std::size_t line) { return ln_likelihood.data() + line * observations; }
    const double* of(std::size_t line) const { return ln_likelihood.data() + line * observations; }
};

/// Weighs scenarios observation by observation in the order of the journal and gives one up as soon as even perfect agreement with all that
/// follows would leave it below e^-kNegligible of the best. What is kept does not depend on what the predictor remembers, only the time
/// does.
class Weighing {
public:
    static constexpr double kNegligible = 18.4;

    Weighing(const Predictor& predictor, const FaultLibrary& library, std::vector<Observation> seen, CancelToken cancel);

    /// The scenarios must outlive this. A set that was added before is taken again only when its new chain is the likelier one. `credit`:
    /// what the scenario they were made from gained by having its readings taken together; they are not given up for want of it. Whether
    /// one was taken. `before`: what was made of these very scenarios in earlier assessments of the board; changes the time taken only.
    bool add(const std::vector<const Scenario*>& scenarios, const std::vector<SetId>& sets, bool grown, double credit = 0,
             Weighed* before = nullptr);

    /// Readings of one candidate together, for all that matter and were not done yet: part tolerances that several readings share count
    /// once.
    void correlate();

    /// Gives up what was kept before the best one was known. Call it when nothing more is added.
    void settle();

    const std::vector<Candidate>& candidates() const { return m_candidates; }
    double top() const; ///< ln_weight of the likeliest candidate
    const Histories& histories() const { return m_histories; }
    const std::vector<Observation>& seen() const { return m_seen; }
    /// Observations (by index) that the candidate does not explain.
    std::vector<std::size_t> misfits(const Candidate& c) const;

private:
    struct Batch;
    void take(const std::vector<const Scenario*>& scenarios, const std::vector<SetId>& sets, Batch& batch);
    std::vector<std::size_t> likeliest_first(Batch& batch);
    double likelihood(std::size_t o, int number, SetId set);
    void ask_together(std::size_t o, const std::vector<int>& numbers, const std::vector<SetId>& sets);
    double fit(std::size_t o, Batch& batch, std::size_t k);
    double other(std::size_t o, Batch& batch, std::size_t k);
    double most_likely(const Observation& seen) const;
    template <class Compute>
    double remembered(std::size_t o, std::size_t number, Compute compute);

    const Predictor& m_predictor;
    const FaultLibrary& m_library;
    std::vector<Observation> m_seen;
    CancelToken m_cancel;
    std::vector<double> m_rest;                  ///< by observation: the most that it and all after it can add; one more at the end, 0
    std::vector<std::vector<double>> m_by_class; ///< by observation, by number of the prediction or behaviour; NaN where not asked yet
    std::vector<Candidate> m_candidates;
    Histories m_histories;
    std::vector<int> m_line; ///< by set, -1 where it was not added
    double m_best = -1e300;
};

} // namespace ohmo
