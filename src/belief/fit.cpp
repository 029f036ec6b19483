// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/fit.h"

#include <algorithm>
#include <cmath>
#include <memory>
#include <numbers>

namespace ohmo::belief {
namespace {

constexpr double kFreedom = 5;
constexpr double kFarOff = 6;   // deviations of the touch: a slip
constexpr double kMostStep = 4; // of a logarithm at once
constexpr double kBack = 0.35;  // of a step that made it worse
constexpr double kLeastPace = 0.02, kGain = 1e-3, kSmallGain = 0.02;
constexpr double kLeastWeight = 0.02;
constexpr double kLeastSpread = 0.3;                     // of the logarithm, to which the least is known
constexpr double kStraight = 0.1, kStraightVolts = 0.02; // of the axis: as far as a straight line is trusted
constexpr double kFlat = 0.1;                            // of any unknown: as far as a display at its end is trusted to stay there
constexpr double kJump = 2;                              // the same of any other, since a junction may begin to conduct
constexpr double kBroadShare = 0.3;                      // of the flat density that a reading in agreement may still borrow

// Twice what a value below the least costs.
double least_cost(const Unknown& u, double value) {
    const double beyond = std::max(0.0, u.least - value) / kLeastSpread;
    return beyond * beyond;
}

// How the odds of one unknown fall with its distance from the middle: as the bell of that spread near it.
struct Fall {
    double cost = 0; // twice what the distance costs
    double pull = 1; // of a bell that has the same slope there: its variance is the smaller by this

    // P. J. Huber, 1964, beyond kTailsFrom; Student's law beyond one deviation.
    static Fall of(const Unknown& u, double value, bool in_circuit) {
        const double z = std::fabs(value - u.middle) / u.spread;
        if (u.tails == Tails::Straight && z > kTailsFrom) return {kTailsFrom * (2 * z - kTailsFrom), kTailsFrom / z};
        if (u.tails == Tails::Told && in_circuit && z > 1)
            return {1 + (kFreedom + 1) * std::log((kFreedom + z * z) / (kFreedom + 1)), (kFreedom + 1) / (kFreedom + z * z)};
        return {z * z, 1};
    }
    double variance(const Unknown& u) const { return u.spread * u.spread / pull; }
    // What the evidence by that bell leaves out.
    double beyond(const Unknown& u, double value) const {
        const double z = (value - u.middle) / u.spread;
        return (z * z * pull - cost - std::log(pull)) / 2;
    }
};

// What a reading's own law says of it beyond the bell of that pull: tails are the touch's, the board's figures have their own.
double touched(double miss, double noise, double pull, double slip, double broad) {
    const double as_read = std::log((1 - slip) * std::exp(ln_student(miss / noise, noise)) + slip * kBroadShare * std::exp(broad));
    const double spread = noise / std::sqrt(pull);
    return as_read - ln_bell(miss / spread, spread);
}

double slip_of(const Sight& seen, double slip) { return slip * std::pow(0.2, seen.confirmed); }

// What an unknown paid for a place that no reading holds it at any more: one that shows "over" once a clamp is out of the way, another that
// had to be met on the way there. A junction that may not be there at all pays for that no more than there being none.
double price_unheld(const Unknown& u, double unheld, double variance) {
    const double paid = unheld * unheld / variance / 2;
    return u.maybe ? std::min(paid, std::numbers::ln2) : paid;
}

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

double ln_bell(double e, double s) { return -0.5 * e * e - std::log(s * std::sqrt(2 * std::numbers::pi)); }

double ln_slip(const Sight& seen, double slip) { return std::log(slip_of(seen, slip)) + ln_broad(seen.place.what); }

double ln_student(double e, double s) {
    static const double norm = std::lgamma((kFreedom + 1) / 2) - std::lgamma(kFreedom / 2) - 0.5 * std::log(kFreedom * std::numbers::pi);
    return -(kFreedom + 1) / 2 * std::log1p(e * e / kFreedom) - std::log(s) + norm;
}

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

Fit fit(const Circuit& circuit, const Bench& bench, const std::vector<Unknown>& prior, const std::vector<double>& start,
        const std::vector<Sight>& seen, const FitOptions& options, const Near& near) {
    const auto unknowns = static_cast<Eigen::Index>(prior.size());
    const auto count = static_cast<Eigen::Index>(seen.size());
    Fit out;
    out.values = start;
    out.variance.resize(unknowns);
    Eigen::VectorXd middle(unknowns);
    for (Eigen::Index i = 0; i < unknowns; ++i) {
        const auto& u = prior[static_cast<std::size_t>(i)];
        middle(i) = u.middle;
        out.variance(i) = u.spread * u.spread;
    }
    if (seen.empty()) return out;
    out.slipped.assign(seen.size(), 0);
    const Eigen::Map<const Eigen::VectorXd> at_start(start.data(), unknowns);
    Eigen::VectorXd theta = at_start, best = theta, miss(count), best_miss(count), weight = Eigen::VectorXd::Ones(count),
                    best_weight = weight;
    Eigen::MatrixXd slopes(count, unknowns);
    std::vector<std::shared_ptr<const Forecast>> forecasts(seen.size());
    std::vector<std::shared_ptr<const Eigen::VectorXd>> point(seen.size()),
        rest(seen.size()); // where each line starts; where its flat end does
    std::shared_ptr<const Eigen::VectorXd> begin;
    if (near.fit != nullptr && near.fit->point.size() == seen.size())
        for (std::size_t j = 0; j < seen.size(); ++j) {
            if (near.moved[j] != 0) continue;
            forecasts[j] = near.fit->forecasts[j];
            point[j] = near.fit->point[j];
            if (!begin) begin = std::make_shared<const Eigen::VectorXd>(at_start); // what was exchanged does not move it
            rest[j] = begin;
        }
    std::vector<double> values(prior.size());
    double least = 1e300, pace = 1;
    bool looked_for_slips = false, robust = options.tails && !options.through;
    int rounds = options.rounds;
    const auto noise2 = [&](Eigen::Index j) {
        const auto& s = seen[static_cast<std::size_t>(j)];
        const auto& told = forecasts[static_cast<std::size_t>(j)];
        const double blur = told ? told->blur : 0;
        return out.slipped[static_cast<std::size_t>(j)] != 0 ? kSlipVariance : s.touch.noise * s.touch.noise + blur * blur;
    };
    const auto mark_slips = [&] {
        bool any = false;
        for (std::size_t j = 0; j < seen.size(); ++j)
            if (out.slipped[j] == 0 &&
                std::fabs(best_miss(static_cast<Eigen::Index>(j))) > kFarOff * std::hypot(seen[j].touch.noise, out.forecasts[j]->blur)) {
                out.slipped[j] = 1;
                any = true;
            }
        return any;
    };
    for (int round = 0;; ++round) {
        std::copy(theta.data(), theta.data() + unknowns, values.begin());
        Network network(circuit, bench.out, bench.meters, values);
        std::shared_ptr<const Eigen::VectorXd> here;
        double cost = 0;
        for (Eigen::Index j = 0; j < count; ++j) {
            const auto& s = seen[static_cast<std::size_t>(j)];
            auto& told = forecasts[static_cast<std::size_t>(j)];
            auto& from = point[static_cast<std::size_t>(j)];
            const auto strayed = [&](double by) { return (theta - *rest[static_cast<std::size_t>(j)]).cwiseAbs().maxCoeff() > by; };
            if (!from || strayed(told->over ? kFlat : kJump) ||
                (told->slope.array() * (theta - *from).array()).abs().sum() >
                    (s.place.what == Quantity::Diode ? kStraightVolts : kStraight)) {
                Shown shown = s.shown;
                shown.taken = options.taken;
                told = std::make_shared<const Forecast>(network.read(s.place, &shown, true, told.get()));
                if (!here) here = std::make_shared<const Eigen::VectorXd>(theta);
                from = here;
                rest[static_cast<std::size_t>(j)] = here;
            }
            const Forecast& f = *told;
            slopes.row(j) = f.slope.transpose();
            miss(j) = s.touch.y - f.y - (from == here ? 0 : f.slope.dot(theta - *from));
            if (s.touch.at_least && miss(j) < 0) {
                miss(j) = 0;
                slopes.row(j).setZero();
            }
            const double e2 = miss(j) * miss(j) / noise2(j);
            const bool slip = out.slipped[static_cast<std::size_t>(j)] != 0;
            cost += robust && !slip ? (kFreedom + 1) * std::log1p(e2 / kFreedom) : e2;
            weight(j) = robust && !slip ? (kFreedom + 1) / (kFreedom + e2) : 1;
        }
        for (Eigen::Index i = 0; i < unknowns; ++i) {
            const auto& u = prior[static_cast<std::size_t>(i)];
            const auto fall = Fall::of(u, theta(i), options.tails);
            cost += fall.cost + least_cost(u, theta(i));
            out.variance(i) = fall.variance(u);
        }
        bool done = round >= rounds;
        if (cost < least - kGain) {
            done = done || (round > 1 && least - cost < kSmallGain);
            least = cost;
            best = theta;
            best_miss = miss;
            best_weight = weight;
            out.slopes = slopes;
            out.forecasts = forecasts;
            out.point = point;
            pace = std::min(1.0, pace * 2);
        } else if (!done) {
            pace *= kBack;
            if (pace >= kLeastPace) {
                theta = best + (theta - best) * kBack;
                continue;
            }
            done = true;
        }
        if (done && options.tails && !robust) {
            robust = true;
            rounds = round + options.rounds;
            least = 1e300;
            pace = 1;
            theta = best;
            continue;
        }
        if (done) {
            if (!options.tails || looked_for_slips) break;
            looked_for_slips = true;
            const bool any = mark_slips();
            if (!any) break;
            rounds = round + 4;
            least = 1e300;
            pace = 1;
            theta = best;
            continue;
        }
        Eigen::MatrixXd s = in_common(slopes, out.variance);
        for (Eigen::Index j = 0; j < count; ++j) s(j, j) += noise2(j) / std::max(weight(j), kLeastWeight);
        const Eigen::VectorXd r = miss + slopes * (theta - middle);
        const Eigen::VectorXd to = middle + out.variance.asDiagonal() * (slopes.transpose() * s.llt().solve(r));
        theta += pace * (to - theta).cwiseMax(-kMostStep).cwiseMin(kMostStep);
    }
    for (Eigen::Index i = 0; i < unknowns; ++i) {
        const auto& u = prior[static_cast<std::size_t>(i)];
        const auto fall = Fall::of(u, best(i), options.tails);
        out.variance(i) = fall.variance(u);
        out.evidence += fall.beyond(u, best(i)) - least_cost(u, best(i)) / 2;
    }
    forecasts = out.forecasts;       // a step that was not taken may have read others
    if (options.tails) mark_slips(); // what the last rounds have left far off
    Eigen::MatrixXd s = in_common(out.slopes, out.variance);
    const auto pull = [&](Eigen::Index j) { return options.tails && out.slipped[static_cast<std::size_t>(j)] == 0 ? best_weight(j) : 1; };
    Eigen::MatrixXd pulled = s;
    for (Eigen::Index j = 0; j < count; ++j) {
        s(j, j) += noise2(j);
        pulled(j, j) += noise2(j) / pull(j);
    }
    out.innovation.compute(s);
    const Eigen::VectorXd r = best_miss + out.slopes * (best - middle);
    const Eigen::LLT<Eigen::MatrixXd> held(pulled);
    const Eigen::MatrixXd l = held.matrixL();
    const Eigen::VectorXd e = l.triangularView<Eigen::Lower>().solve(r);
    const Eigen::VectorXd unheld = best - middle - out.variance.asDiagonal() * (out.slopes.transpose() * held.solve(r));
    for (Eigen::Index i = 0; i < unknowns; ++i)
        out.evidence -= price_unheld(prior[static_cast<std::size_t>(i)], unheld(i), out.variance(i));
    out.residual.resize(seen.size());
    for (std::size_t j = 0; j < seen.size(); ++j) {
        const auto i = static_cast<Eigen::Index>(j);
        const double slip = slip_of(seen[j], options.slip), broad = ln_broad(seen[j].place.what);
        out.residual[j] = best_miss(i) / seen[j].touch.noise;
        double ln = 0;
        if (out.slipped[j] != 0)
            ln = ln_slip(seen[j], options.slip);
        else if (options.tails)
            ln = ln_bell(e(i), l(i, i)) + touched(best_miss(i), std::sqrt(noise2(i)), pull(i), slip, broad);
        else
            ln = std::log((1 - slip) * std::exp(std::max(-300.0, ln_bell(e(i), l(i, i)))) + slip * std::exp(broad));
        out.ln.push_back(ln);
        out.evidence += ln;
    }
    std::copy(best.data(), best.data() + unknowns, out.values.begin());
    return out;
}

} // namespace ohmo::belief
