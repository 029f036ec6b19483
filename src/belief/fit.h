// SPDX-License-Identifier: GPL-3.0-or-later
// How well a circuit with unknowns explains a set of readings, and what the readings say of the unknowns.
// Method: Gauss-Newton in the space of readings with the prior as a quadratic (A. Tarantola, Inverse Problem Theory, 2005, chapter 3), the
// evidence from the whitened innovations of the same matrix (G. Welch and G. Bishop describe the equivalent Kalman update); in circuit what
// a reading's touch leaves over has the tails of Student's law (the bell of the same pull stands for it in the matrix), and a reading left
// far off is a slip with a flat density. What an unknown is bent by costs what its own law says. Natural logarithms.
#pragma once
#include "belief/axis.h"
#include "belief/laws.h"
#include "belief/network.h"

#include <Eigen/Dense>

#include <memory>
#include <vector>

namespace ohmo::belief {

/// One reading of an island.
struct Sight {
    Place place;
    Shown shown;
    Touched touch;
    int entry = -1;     ///< in the journal
    double slip = 0.01; ///< chance that it is of something else: the less, the oftener the same was read there
};

inline constexpr double kSlipVariance = 25; ///< of a reading taken for a slip: it pulls at nothing

struct FitOptions {
    int rounds = 10;
    bool tails = true;    ///< in circuit; a part read alone is believed to the bell
    bool through = false; ///< agrees with every reading as well as it can before any is held to be a slip
    RangeTaken taken = RangeTaken::Nearer;
};

struct Fit {
    double evidence = 0;
    std::vector<double> values;                                              ///< of all unknowns
    std::vector<char> slipped;                                               ///< by reading
    std::vector<double> ln;                                                  ///< evidence of each reading, given those before it
    std::vector<double> residual;                                            ///< in units of its touch, by reading
    Eigen::MatrixXd slopes;                                                  ///< readings by unknowns
    Eigen::LLT<Eigen::MatrixXd> innovation{Eigen::MatrixXd::Identity(1, 1)}; ///< readings by readings, factored
    Eigen::VectorXd variance;                                                ///< prior, of the unknowns
    std::vector<std::shared_ptr<const Forecast>> forecasts;                  ///< each at its own point
    std::vector<std::shared_ptr<const Eigen::VectorXd>> point;               ///< by reading: the values at which it was solved

    /// Variance of a further reading with this slope, given the readings.
    double variance_of(const Eigen::VectorXd& slope) const;
    /// Standard deviation of one unknown, given the readings.
    double spread_of(int unknown) const;
};

/// What the sums need besides: one setting of the board by number, and the meters.
struct Bench {
    std::vector<std::vector<char>> out; ///< by setting, by unit: out of circuit
    std::vector<MeterProfile> meters;
};

/// A fit of the same readings nearby, and which of them what has changed since moves beyond a straight line.
struct Near {
    const Fit* fit = nullptr;
    std::vector<char> moved; ///< by reading
};

/// Readings are solved again only where their straight line no longer holds. `near`: saves solving what did not move.
Fit fit(const Circuit& circuit, const Bench& bench, const std::vector<Unknown>& prior, const std::vector<double>& start,
        const std::vector<Sight>& seen, const FitOptions& options, const Near& near = {});

/// Covariance of readings through the unknowns that they have in common.
Eigen::MatrixXd in_common(const Eigen::MatrixXd& slopes, const Eigen::VectorXd& variance);

/// ln density of a reading that is of something else.
double ln_slip(const Sight& seen);

} // namespace ohmo::belief
