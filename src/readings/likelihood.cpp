// SPDX-License-Identifier: GPL-3.0-or-later
// Reading model: Gaussian on the score axis around the prediction, over-range as an outcome of its own, a blunder share spread over the
// whole ruler, so that no single reading makes the truth impossible.
#include "readings/likelihood.h"

#include "base/statistics.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kSharedAtMost = 0.99999; // of two readings' spreads: what the meter itself adds is never shared
constexpr double kBendShared = 0.9999;    // of what two readings bend alike
constexpr double kSharedDeviations = 4;   // a reading further off is a blunder or another fault, and says nothing of tolerances

double ruler_density(Quantity what) { return quantity_info(what).density; }

bool shows_none(const Observation& seen) { return seen.query.what == Quantity::Farads && (seen.over || seen.value < kNoFarads); }
double chance_of_none(const Practice& p, const Prediction& told) {
    return told.over || told.value < kNoFarads ? 1 : told.alternate_x ? p.hidden_none : 0;
}

// The end value lies above what was seen.
double climbing_likelihood(const Practice& practice, Quantity what, double x, const Prediction& p, double blunder) {
    const double chance = p.over ? 1.0 : 1 - normal_cdf((x - p.x) / std::max(p.sigma, 0.1));
    return ((1 - blunder) * chance * (p.rising || p.over ? 1.0 : practice.still_climbs) + blunder) * ruler_density(what) * 4;
}

} // namespace

double blunder_chance(const Practice& practice, const Observation& seen) {
    return practice.blunder * std::pow(practice.slips_again, seen.confirmed);
}

double reading_likelihood(const Practice& practice, const Observation& seen, const Prediction& p) {
    const Quantity what = seen.query.what;
    const double blunder = blunder_chance(practice, seen);
    if (what == Quantity::Continuity) return (seen.value > 0.5) == (p.value > 0.5) ? 1 - blunder : blunder;
    if (!p.converged) return ruler_density(what); // no number, no evidence
    const double flat = blunder * ruler_density(what);
    if (shows_none(seen)) return (1 - blunder) * chance_of_none(practice, p) + blunder * practice.blunder_over;
    if (const double none = chance_of_none(practice, p); what == Quantity::Farads && none > 0)
        return (1 - blunder) * (1 - none) * normal_density(score_axis(what, seen.value), p.x, p.sigma) + flat;
    if (seen.over) {
        const double chance = p.over ? 1 : 1 - normal_cdf((over_edge(what) - p.x) / std::max(p.sigma, 0.05));
        return (1 - blunder) * chance + blunder * practice.blunder_over;
    }
    const double x = score_axis(what, seen.value);
    if (seen.rising) return climbing_likelihood(practice, what, x, p, blunder);
    if (p.over) { // damp, flux and fingers read as megohms where the model says open
        const double damp = what == Quantity::Ohms && seen.value > practice.damp_ohms ? practice.damp / std::log(20.0) : 0.0;
        return (1 - blunder) * damp + flat;
    }
    double density = normal_density(x, p.x, p.sigma);
    if (p.alternate_x) density = 0.5 * density + 0.5 * normal_density(x, *p.alternate_x, p.sigma);
    // Taken before it had settled: anything from a thirtieth of the end value upwards.
    if (p.rising && x < p.x && x > p.x - std::log(30.0)) density = (1 - practice.too_early) * density + practice.too_early / std::log(30.0);
    return (1 - blunder) * density + flat;
}

bool shares_tolerances(const Observation& seen, const Prediction& p) {
    if (seen.over || seen.rising || p.over || p.rising || p.alternate_x || !p.converged || p.by_part.empty()) return false;
    return std::fabs(score_axis(seen.query.what, seen.value) - p.x) < kSharedDeviations * p.sigma;
}

double shared_variance(const Prediction& a, const Prediction& b) {
    double shared = 0; // both lists ascend
    for (auto p = a.by_part.begin(), q = b.by_part.begin(); p != a.by_part.end() && q != b.by_part.end();) {
        if (p->same_as(*q)) shared += p->change * q->change;
        const bool step_p = !q->before(*p), step_q = !p->before(*q);
        if (step_p) ++p;
        if (step_q) ++q;
    }
    const double most = kSharedAtMost * a.sigma * b.sigma;
    return std::clamp(shared, -most, most);
}

// ln of a sum bends: addend i with the share a_i of it gives the second derivatives a_i (1 - a_i) and -a_i a_k. With Q the matrix of those
// times the deviations, two readings share half the trace of Q Q'.
double bend_covariance(const Prediction& a, const Prediction& b) {
    const auto straight = [](const Deviation& d) { return d.sigma > 0 ? d.change * d.sigma : d.change * d.change; };
    double both = 0, a_in_b = 0, b_in_a = 0, shared = 0; // both lists ascend
    for (auto p = a.by_part.begin(), q = b.by_part.begin(); p != a.by_part.end() && q != b.by_part.end();) {
        if (p->same_as(*q)) {
            both += straight(*p) * straight(*q);
            a_in_b += straight(*p) * q->change * q->change;
            b_in_a += straight(*q) * p->change * p->change;
            shared += p->change * q->change;
        }
        const bool step_p = !q->before(*p), step_q = !p->before(*q);
        if (step_p) ++p;
        if (step_q) ++q;
    }
    return 0.5 * (both - a_in_b - b_in_a + shared * shared);
}

std::vector<double> joint_ln_likelihood(const Practice& practice,
                                        const std::vector<std::pair<const Observation*, const Prediction*>>& readings) {
    const auto n = static_cast<Eigen::Index>(readings.size());
    Eigen::MatrixXd covariance(n, n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& a = *readings[static_cast<std::size_t>(i)].second;
        for (Eigen::Index k = 0; k < i; ++k) {
            const auto& b = *readings[static_cast<std::size_t>(k)].second;
            covariance(i, k) = covariance(k, i) = shared_variance(a, b) + kBendShared * bend_covariance(a, b);
        }
        covariance(i, i) = a.sigma * a.sigma * (1 + 1e-9) + bend_covariance(a, a);
    }
    const Eigen::LLT<Eigen::MatrixXd> factor(covariance);
    std::vector<double> out;
    Eigen::VectorXd white(n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& [seen, p] = readings[static_cast<std::size_t>(i)];
        const Quantity what = seen->query.what;
        const double x = score_axis(what, seen->value);
        double mean = p->x, sigma = p->sigma;
        if (factor.info() == Eigen::Success) {
            const auto& l = factor.matrixL();
            for (Eigen::Index k = 0; k < i; ++k) mean += l(i, k) * white[k];
            sigma = l(i, i);
            white[i] = (x - mean) / sigma;
        }
        const double blunder = blunder_chance(practice, *seen);
        out.push_back(std::log((1 - blunder) * normal_density(x, mean, sigma) + blunder * ruler_density(what)));
    }
    return out;
}

double reading_misfit(const Practice& practice, const Observation& seen, const Prediction& p) {
    if (seen.query.what == Quantity::Continuity) return (seen.value > 0.5) == (p.value > 0.5) ? 0 : 4;
    const double got = reading_likelihood(practice, seen, p);
    Observation best = seen;
    best.over = p.over;
    best.rising = seen.rising && !p.over;
    best.value = p.value;
    const double top = std::max(reading_likelihood(practice, best, p), got);
    return std::sqrt(2 * std::log(top / got));
}

double unexplained_likelihood(const Practice& p, const Observation& seen) {
    switch (seen.kind) {
    case Seen::Reading:
        return seen.over ? p.unexplained_over : p.unexplained_number * ruler_density(seen.query.what);
    case Seen::Look:
        return seen.word == "fine" ? p.unexplained_fine : p.unexplained_look;
    case Seen::LiveVolts:
    case Seen::LiveRipple:
        return p.unexplained_live;
    default:
        return p.unexplained_word;
    }
}

double live_likelihood(const Board& board, const BoardRoles& roles, const Observation& seen, const Figures& figures) {
    const Practice& p = board.practice();
    const auto of = [&](double volts, double sigma, double ripple, double nominal) {
        if (seen.kind == Seen::LiveRipple) {
            const double x = std::log(std::max(seen.value, 0.0) + p.least_ripple), told = std::log(ripple + p.least_ripple);
            return (1 - p.live_blunder) * normal_density(x, told, p.ripple_spread) + p.live_blunder / 10;
        }
        return (1 - p.live_blunder) * normal_density(seen.value, volts, sigma) + p.live_blunder / (2 * nominal);
    };
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& rail = board.rails[r];
        const auto& told = figures.rails[r];
        if (seen.query.red == rail.net_id) return of(told.volts, told.sigma, told.ripple, std::fabs(rail.volts));
    }
    if (!board.mains || roles.hv < 0 || seen.query.red != roles.hv) return 1;
    const double crest = std::numbers::sqrt2 * board.mains->volts;
    return of(figures.bulk_volts, p.bulk_volts_spread * crest, figures.bulk_ripple, crest);
}

} // namespace ohmo
