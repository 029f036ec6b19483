// SPDX-License-Identifier: GPL-3.0-or-later
// Posterior over scenarios, what it says of every part, and what stays unexplained.
// Method: Bayes' rule over an explicit list of hypotheses, in logarithms (D. J. C. MacKay, Information Theory, Inference, and Learning
// Algorithms, 2003, chapters 2 and 28), with a reserve for "none of them"; the list grows by neighbours of the leaders while they misfit.
// Probabilities are without unit, weights natural logarithms, reasons decibans (I. J. Good, 1950).
#pragma once
#include "damage/enumerate.h"
#include "posterior/weighed.h"
#include "readings/evidence.h"
#include "readings/predictor.h"

#include <map>
#include <memory>
#include <vector>

namespace ohmo {

/// One observation's part in a suspicion.
struct Reason {
    int entry = -1;      ///< journal index
    double decibans = 0; ///< change of ten times the base-ten log odds; positive raised the suspicion
};

struct PartBelief {
    int part = -1;
    double bad = 0;
    std::map<FaultMode, double> modes;
    Fault leading;               ///< likeliest fault of this part (with its place)
    bool settled_cold = true;    ///< an unpowered reading can decide
    std::vector<Reason> reasons; ///< heaviest first
};

struct Story {
    double p = 0;
    Scenario scenario;
    bool grown = false; ///< found because no enumerated scenario explained the evidence
};

struct Assessment {
    std::vector<PartBelief> parts; ///< every part, most suspect first
    std::vector<Story> stories;    ///< likeliest first, at least 0.1 % each, 40 at the most
    double supply_good = 0;
    double unexplained = 0;
    std::vector<int> contradicted_by;                   ///< journal entries that the leading story does not explain
    std::vector<std::pair<double, Scenario>> posterior; ///< the carriers of 99.95 % of the probability, likeliest first

    const PartBelief& belief(int part) const;
};

struct AssessOptions {
    int growth_rounds = 4;
};

/// Scenarios of one board with their fault sets numbered by its predictor.
struct Hypotheses {
    std::shared_ptr<const ScenarioSet> scenarios;
    std::vector<SetId> sets; ///< by scenario

    static Hypotheses of(const Predictor& predictor, std::shared_ptr<const ScenarioSet> scenarios);
};

/// Errors: Cancelled.
/// `memory`: what earlier assessments of these very hypotheses made of the observations, and now this one; null: nothing is kept. It
/// changes the time taken only.
Result<Assessment> assess(const Predictor& predictor, const FaultLibrary& library, const Hypotheses& hypotheses, const Evidence& evidence,
                          const AssessOptions& options, const CancelToken& cancel, Weighed* memory = nullptr);
Result<Assessment> assess(const Predictor& predictor, const FaultLibrary& library, const ScenarioSet& set, const Evidence& evidence,
                          const AssessOptions& options, const CancelToken& cancel);

/// Works out ahead what every hypothesis makes of `queries`, so that a surprising reading keeps no one waiting. Errors: Cancelled.
Result<bool> prepare_assess(const Predictor& predictor, const Hypotheses& hypotheses, const std::vector<Query>& queries,
                            const CancelToken& cancel);

/// Whether cold readings can tell this mode from a healthy part.
bool settled_cold(const Board& board, const Fault& fault);

} // namespace ohmo
