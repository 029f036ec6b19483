// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/fit.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <utility>

namespace ohmo::belief {
namespace {

constexpr double kFarOff = 6;   // deviations of the touch: a slip
constexpr double kMostStep = 4; // of a logarithm at once
constexpr double kBack = 0.35;  // of a step that made it worse
constexpr double kLeastPace = 0.02, kGain = 1e-3, kSmallGain = 0.02;
constexpr double kLeastWeight = 0.02;
constexpr double kFar = 1e300;
constexpr int kSlipRounds = 4;                           // without what is left far off
constexpr double kStraight = 0.1, kStraightVolts = 0.02; // of the axis: as far as a straight line is trusted
constexpr double kFlat = 0.1;                            // of any unknown: as far as a display at its end is trusted to stay there
constexpr double kJump = 2;                              // the same of any other, since a junction may begin to conduct

} // namespace

// Most of an island's unknowns move none of the readings.
Eigen::MatrixXd in_common(const Eigen::MatrixXd& slopes, const Eigen::VectorXd& variance) {
    std::vector<Eigen::Index> active;
    for (Eigen::Index k = 0; k < slopes.cols(); ++k)
        if (slopes.col(k).cwiseAbs().maxCoeff() * variance(k) > 1e-9) active.push_back(k);
    Eigen::MatrixXd scaled(slopes.rows(), static_cast<Eigen::Index>(active.size()));
    for (std::size_t k = 0; k < active.size(); ++k)
        scaled.col(static_cast<Eigen::Index>(k)) = slopes.col(active[k]) * std::sqrt(variance(active[k]));
    Eigen::MatrixXd out = Eigen::MatrixXd::Zero(slopes.rows(), slopes.rows());
    out.selfadjointView<Eigen::Lower>().rankUpdate(scaled);
    return out.selfadjointView<Eigen::Lower>();
}

double ln_slip(const Sight& seen) { return std::log(seen.slip) + ln_broad(seen.place.what); }

double Fit::variance_of(const Eigen::VectorXd& slope) const {
    const Eigen::VectorXd weighted = variance.cwiseProduct(slope);
    double out = weighted.dot(slope);
    if (slopes.rows() > 0) {
        const Eigen::VectorXd shared = slopes * weighted;
        out -= shared.dot(innovation.solve(shared));
    }
    return std::max(0.0, out);
}

double Fit::spread_of(int unknown) const {
    double out = variance(unknown);
    if (slopes.rows() > 0) {
        const Eigen::VectorXd shared = slopes.col(unknown) * variance(unknown);
        out -= shared.dot(innovation.solve(shared));
    }
    return std::sqrt(std::max(out, 1e-8));
}

namespace {

// One fit on its way: where it is, the best point so far, and the straight lines of the readings.
class Fitting {
public:
    Fitting(const Circuit& circuit, const Bench& bench, const std::vector<Unknown>& prior, const std::vector<double>& start,
            const std::vector<Sight>& seen, const FitOptions& options)
        : m_circuit(circuit), m_bench(bench), m_prior(prior), m_seen(seen), m_options(options),
          m_unknowns(static_cast<Eigen::Index>(prior.size())), m_count(static_cast<Eigen::Index>(seen.size())), m_middle(m_unknowns),
          m_miss(m_count), m_weight(Eigen::VectorXd::Ones(m_count)), m_best_weight(m_weight), m_slopes(m_count, m_unknowns),
          m_forecasts(seen.size()), m_from(seen.size()), m_rest(seen.size()), m_robust(options.tails && !options.through),
          m_rounds(options.rounds) {
        m_out.values = start;
        m_out.variance.resize(m_unknowns);
        for (Eigen::Index i = 0; i < m_unknowns; ++i) {
            const auto& u = prior[static_cast<std::size_t>(i)];
            m_middle(i) = u.middle;
            m_out.variance(i) = u.spread * u.spread;
        }
        m_out.slipped.assign(seen.size(), 0);
        m_theta = m_best = Eigen::Map<const Eigen::VectorXd>(start.data(), m_unknowns);
    }

    // The lines of what does not move from there to here; what was exchanged does not move it.
    void take_over(const Near& near) {
        if (near.fit == nullptr || near.fit->point.size() != m_seen.size()) return;
        const auto begin = std::make_shared<const Eigen::VectorXd>(m_theta);
        for (std::size_t j = 0; j < m_seen.size(); ++j) {
            if (near.moved[j] != 0) continue;
            m_forecasts[j] = near.fit->forecasts[j];
            m_from[j] = near.fit->point[j];
            m_rest[j] = begin;
        }
    }

    Fit run() {
        if (m_seen.empty()) return std::move(m_out);
        settle();
        weigh();
        std::copy(m_best.data(), m_best.data() + m_unknowns, m_out.values.begin());
        return std::move(m_out);
    }

private:
    bool slipped(Eigen::Index j) const { return m_out.slipped[static_cast<std::size_t>(j)] != 0; }
    double noise2(Eigen::Index j) const {
        const auto at = static_cast<std::size_t>(j);
        const double noise = m_seen[at].touch.noise, blur = m_forecasts[at] ? m_forecasts[at]->blur : 0;
        return slipped(j) ? kSlipVariance : noise * noise + blur * blur;
    }

    // First with a bell for every touch where all is to be gone through, then with tails; and once more without what is left far off.
    void settle() {
        for (int round = 0;; ++round) {
            const double cost = cost_here();
            bool done = round >= m_rounds;
            if (cost < m_least - kGain) {
                done = done || (round > 1 && m_least - cost < kSmallGain);
                keep_here(cost);
            } else if (!done) {
                m_pace *= kBack;
                done = m_pace < kLeastPace;
                if (!done) {
                    m_theta = m_best + (m_theta - m_best) * kBack;
                    continue;
                }
            }
            if (!done) {
                step();
            } else if (m_options.tails && !m_robust) {
                m_robust = true;
                again_from_the_best(round + m_options.rounds);
            } else if (m_options.tails && !std::exchange(m_looked_for_slips, true) && mark_slips()) {
                again_from_the_best(round + kSlipRounds);
            } else {
                return;
            }
        }
    }

    // Twice the negative logarithm, up to a constant. Leaves misses, slopes and weights of the readings, variances of the unknowns.
    double cost_here() {
        std::vector<double> values(m_theta.data(), m_theta.data() + m_unknowns);
        Network network(m_circuit, m_bench.out, m_bench.meters, values);
        std::shared_ptr<const Eigen::VectorXd> here;
        double cost = 0;
        for (Eigen::Index j = 0; j < m_count; ++j) {
            read(j, network, here);
            const double e2 = m_miss(j) * m_miss(j) / noise2(j);
            const bool tails = m_robust && !slipped(j);
            cost += tails ? student_cost(e2) : e2;
            m_weight(j) = tails ? student_pull(e2) : 1;
        }
        for (Eigen::Index i = 0; i < m_unknowns; ++i) {
            const auto& u = m_prior[static_cast<std::size_t>(i)];
            const auto fall = Fall::of(u, m_theta(i), m_options.tails);
            cost += fall.cost + least_cost(u, m_theta(i));
            m_out.variance(i) = fall.variance(u);
        }
        return cost;
    }

    // Along its line as far as that holds, else solved here.
    void read(Eigen::Index j, Network& network, std::shared_ptr<const Eigen::VectorXd>& here) {
        const auto at = static_cast<std::size_t>(j);
        const auto& s = m_seen[at];
        auto& told = m_forecasts[at];
        auto& from = m_from[at];
        const auto strayed = [&](double by) { return (m_theta - *m_rest[at]).cwiseAbs().maxCoeff() > by; };
        if (!from || strayed(told->over ? kFlat : kJump) ||
            (told->slope.array() * (m_theta - *from).array()).abs().sum() >
                (s.place.what == Quantity::Diode ? kStraightVolts : kStraight)) {
            Shown shown = s.shown;
            shown.taken = m_options.taken;
            told = std::make_shared<const Forecast>(network.read(s.place, &shown, true, told.get()));
            if (!here) here = std::make_shared<const Eigen::VectorXd>(m_theta);
            from = m_rest[at] = here;
        }
        m_slopes.row(j) = told->slope.transpose();
        m_miss(j) = s.touch.y - told->y - (from == here ? 0 : told->slope.dot(m_theta - *from));
        if (s.touch.at_least && m_miss(j) < 0) {
            m_miss(j) = 0;
            m_slopes.row(j).setZero();
        }
    }

    void keep_here(double cost) {
        m_least = cost;
        m_best = m_theta;
        m_best_miss = m_miss;
        m_best_weight = m_weight;
        m_out.slopes = m_slopes;
        m_out.forecasts = m_forecasts;
        m_out.point = m_from;
        m_pace = std::min(1.0, m_pace * 2);
    }

    void again_from_the_best(int rounds) {
        m_rounds = rounds;
        m_least = kFar;
        m_pace = 1;
        m_theta = m_best;
    }

    bool mark_slips() {
        bool any = false;
        for (std::size_t j = 0; j < m_seen.size(); ++j)
            if (m_out.slipped[j] == 0 && std::fabs(m_best_miss(static_cast<Eigen::Index>(j))) >
                                             kFarOff * std::hypot(m_seen[j].touch.noise, m_out.forecasts[j]->blur)) {
                m_out.slipped[j] = 1;
                any = true;
            }
        return any;
    }

    void step() {
        Eigen::MatrixXd s = in_common(m_slopes, m_out.variance);
        for (Eigen::Index j = 0; j < m_count; ++j) s(j, j) += noise2(j) / std::max(m_weight(j), kLeastWeight);
        const Eigen::VectorXd r = m_miss + m_slopes * (m_theta - m_middle);
        const Eigen::VectorXd to = m_middle + m_out.variance.asDiagonal() * (m_slopes.transpose() * s.llt().solve(r));
        m_theta += m_pace * (to - m_theta).cwiseMax(-kMostStep).cwiseMin(kMostStep);
    }

    // What the readings say of this circuit, at the best point.
    void weigh() {
        for (Eigen::Index i = 0; i < m_unknowns; ++i) {
            const auto& u = m_prior[static_cast<std::size_t>(i)];
            const auto fall = Fall::of(u, m_best(i), m_options.tails);
            m_out.variance(i) = fall.variance(u);
            m_out.evidence += fall.beyond(u, m_best(i)) - least_cost(u, m_best(i)) / 2;
        }
        m_forecasts = m_out.forecasts;     // a step that was not taken may have read others
        if (m_options.tails) mark_slips(); // what the last rounds have left far off
        const auto pull = [&](Eigen::Index j) { return m_options.tails && !slipped(j) ? m_best_weight(j) : 1; };
        Eigen::MatrixXd s = in_common(m_out.slopes, m_out.variance), pulled = s; // as a further reading is judged; as these are
        for (Eigen::Index j = 0; j < m_count; ++j) {
            s(j, j) += noise2(j);
            pulled(j, j) += noise2(j) / pull(j);
        }
        m_out.innovation.compute(s);
        const Eigen::VectorXd r = m_best_miss + m_out.slopes * (m_best - m_middle);
        const Eigen::LLT<Eigen::MatrixXd> held(pulled);
        const Eigen::MatrixXd l = held.matrixL();
        const Eigen::VectorXd e = l.triangularView<Eigen::Lower>().solve(r);
        const Eigen::VectorXd unheld = m_best - m_middle - m_out.variance.asDiagonal() * (m_out.slopes.transpose() * held.solve(r));
        for (Eigen::Index i = 0; i < m_unknowns; ++i)
            m_out.evidence -= price_unheld(m_prior[static_cast<std::size_t>(i)], unheld(i), m_out.variance(i));
        m_out.residual.resize(m_seen.size());
        for (Eigen::Index j = 0; j < m_count; ++j) {
            const auto& seen = m_seen[static_cast<std::size_t>(j)];
            m_out.residual[static_cast<std::size_t>(j)] = m_best_miss(j) / seen.touch.noise;
            m_out.ln.push_back(ln_of(seen, j, e(j), l(j, j), pull(j)));
            m_out.evidence += m_out.ln.back();
        }
    }

    // `e`: of its spread `l`, given the readings before it.
    double ln_of(const Sight& seen, Eigen::Index j, double e, double l, double pull) const {
        if (slipped(j)) return ln_slip(seen);
        const double broad = ln_broad(seen.place.what);
        if (m_options.tails) return ln_bell(e, l) + ln_beyond_bell(m_best_miss(j), std::sqrt(noise2(j)), pull, seen.slip, broad);
        return std::log((1 - seen.slip) * std::exp(std::max(-300.0, ln_bell(e, l))) + seen.slip * std::exp(broad));
    }

    const Circuit& m_circuit;
    const Bench& m_bench;
    const std::vector<Unknown>& m_prior;
    const std::vector<Sight>& m_seen;
    const FitOptions& m_options;
    const Eigen::Index m_unknowns, m_count;
    Eigen::VectorXd m_middle, m_theta, m_best, m_miss, m_best_miss, m_weight, m_best_weight;
    Eigen::MatrixXd m_slopes;
    std::vector<std::shared_ptr<const Forecast>> m_forecasts;
    std::vector<std::shared_ptr<const Eigen::VectorXd>> m_from, m_rest; // where each line starts; where its flat end does
    double m_least = kFar, m_pace = 1;
    bool m_robust, m_looked_for_slips = false;
    int m_rounds;
    Fit m_out;
};

} // namespace

Fit fit(const Circuit& circuit, const Bench& bench, const std::vector<Unknown>& prior, const std::vector<double>& start,
        const std::vector<Sight>& seen, const FitOptions& options, const Near& near) {
    Fitting fitting(circuit, bench, prior, start, seen, options);
    fitting.take_over(near);
    return fitting.run();
}

} // namespace ohmo::belief
