// SPDX-License-Identifier: GPL-3.0-or-later
// Reading model: Gaussian on the score axis around the prediction, over-range as an outcome of its own, a blunder share spread over the
// whole ruler, so that no single reading makes the truth impossible.
#include "readings/likelihood.h"

#include "base/statistics.h"
#include "damage/blast.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kOverShare = 0.15;       // of the blunders show over-range
constexpr double kSharedAtMost = 0.99999; // of two readings' spreads: what the meter itself adds is never shared
constexpr double kBendShared = 0.9999;    // of what two readings bend alike
constexpr double kSlipsAgain = 0.1;       // of the slips: the same wrong pin once more
constexpr double kHealthyFine = 0.985;
constexpr double kSootShare = 0.6;                        // of the parts right beside a burst show it (common practice, no source)
constexpr double kLiveBlunder = 0.02, kBulkSigma = 0.05;  // of a powered reading; of the crest: the line is what it is
constexpr double kRippleSigma = 0.8, kLeastRipple = 2e-3; // of ln(volts): averaged sums; what a bench scope shows of nothing
constexpr double kSharedDeviations = 4; // a reading further off is a blunder or another fault, and says nothing of tolerances

double ruler_density(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return 1 / 3.0;
    case Quantity::Leakage:
        return 1 / 12.0;
    case Quantity::Residue:
        return 0.5;
    case Quantity::Esr:
        return 1 / 9.0;
    case Quantity::Continuity:
        return 0.5;
    default:
        return 1 / 19.0;
    }
}

double over_edge(Quantity what) {
    switch (what) {
    case Quantity::Ohms:
        return score_axis(what, 2e7);
    case Quantity::Esr:
        return score_axis(what, 100);
    case Quantity::Diode:
        return 3.0;
    default:
        return 1e9;
    }
}

// A capacitance meter that finds no capacitor shows nothing or over-range: one outcome, not a number.
constexpr double kNoFarads = 1e-12;
bool shows_none(const Observation& seen) { return seen.query.what == Quantity::Farads && (seen.over || seen.value < kNoFarads); }
double chance_of_none(const Prediction& p) { return p.over || p.value < kNoFarads ? 1 : p.alternate_x ? 0.5 : 0; }

double rest_of_odds(double share) { return (1 - share) / 3; }

} // namespace

double blunder_chance(const Observation& seen) { return kBlunder * std::pow(kSlipsAgain, seen.confirmed); }

double reading_likelihood(const Observation& seen, const Prediction& p) {
    const Quantity what = seen.query.what;
    const double blunder = blunder_chance(seen);
    if (what == Quantity::Continuity) return (seen.value > 0.5) == (p.value > 0.5) ? 1 - blunder : blunder;
    if (!p.converged) return ruler_density(what); // no number, no evidence
    const double flat = blunder * ruler_density(what);
    if (shows_none(seen)) return (1 - blunder) * chance_of_none(p) + blunder * kOverShare;
    if (what == Quantity::Farads && chance_of_none(p) > 0)
        return (1 - blunder) * (1 - chance_of_none(p)) * normal_density(score_axis(what, seen.value), p.x, p.sigma) + flat;
    if (seen.over) {
        const double chance = p.over ? 1 : 1 - normal_cdf((over_edge(what) - p.x) / std::max(p.sigma, 0.05));
        return (1 - blunder) * chance + blunder * kOverShare;
    }
    const double x = score_axis(what, seen.value);
    if (seen.rising) { // the end value lies above what was seen
        const double chance = p.over ? 1.0 : 1 - normal_cdf((x - p.x) / std::max(p.sigma, 0.1));
        return ((1 - blunder) * chance * (p.rising || p.over ? 1.0 : 0.3) + blunder) * ruler_density(what) * 4;
    }
    if (p.over) {
        // Damp, flux and fingers read as megohms where the model says open.
        const double damp = what == Quantity::Ohms && seen.value > 1e6 ? 0.05 / std::log(20.0) : 0.0;
        return (1 - blunder) * damp + flat;
    }
    double density = normal_density(x, p.x, p.sigma);
    if (p.alternate_x) density = 0.5 * density + 0.5 * normal_density(x, *p.alternate_x, p.sigma);
    // Taken before it had settled: anything from a tenth of the end value upwards.
    if (p.rising && x < p.x && x > p.x - std::log(30.0)) density = 0.7 * density + 0.3 / std::log(30.0);
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

std::vector<double> joint_ln_likelihood(const std::vector<std::pair<const Observation*, const Prediction*>>& readings) {
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
        out.push_back(std::log((1 - blunder_chance(*seen)) * normal_density(x, mean, sigma) + blunder_chance(*seen) * ruler_density(what)));
    }
    return out;
}

double reading_misfit(const Observation& seen, const Prediction& p) {
    if (seen.query.what == Quantity::Continuity) return (seen.value > 0.5) == (p.value > 0.5) ? 0 : 4;
    const double got = reading_likelihood(seen, p);
    Observation best = seen;
    best.over = p.over;
    best.rising = seen.rising && !p.over;
    best.value = p.value;
    const double top = std::max(reading_likelihood(best, p), got);
    return std::sqrt(2 * std::log(top / got));
}

double unexplained_likelihood(const Observation& seen) {
    switch (seen.kind) {
    case Seen::Reading:
        return seen.over ? 0.3 : 0.5 * ruler_density(seen.query.what);
    case Seen::Look:
        return seen.word == "fine" ? 0.9 : 0.03;
    case Seen::Symptom:
        return 0.3;
    case Seen::LiveVolts:
    case Seen::LiveRipple:
        return 0.05;
    default:
        return 0.3;
    }
}

double live_likelihood(const Board& board, const BoardRoles& roles, const Observation& seen, const Figures& figures) {
    const auto of = [&](double volts, double sigma, double ripple, double nominal) {
        if (seen.kind == Seen::LiveRipple) {
            const double x = std::log(std::max(seen.value, 0.0) + kLeastRipple), told = std::log(ripple + kLeastRipple);
            return (1 - kLiveBlunder) * normal_density(x, told, kRippleSigma) + kLiveBlunder / 10;
        }
        return (1 - kLiveBlunder) * normal_density(seen.value, volts, sigma) + kLiveBlunder / (2 * nominal);
    };
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& rail = board.rails[r];
        const auto& told = figures.rails[r];
        if (seen.query.red == rail.net_id) return of(told.volts, told.sigma, told.ripple, std::fabs(rail.volts));
    }
    if (!board.mains || roles.hv < 0 || seen.query.red != roles.hv) return 1;
    const double crest = std::numbers::sqrt2 * board.mains->volts;
    return of(figures.bulk_volts, kBulkSigma * crest, figures.bulk_ripple, crest);
}

// Leaks grow with heat, a dry capacitor comes back with it, cracks move either way (common practice, no source).
double temperature_chance(const std::string& word, bool cooled, const Fault* fault) {
    struct Odds {
        double recovers, worse;
    };
    Odds odds{0.02, 0.04};
    if (fault != nullptr) {
        switch (fault->mode) {
        case FaultMode::Leaky:
        case FaultMode::GateLeak:
        case FaultMode::Weak:
            odds = cooled ? Odds{0.7, 0.02} : Odds{0.02, 0.7};
            break;
        case FaultMode::Dry:
        case FaultMode::Low:
            odds = cooled ? Odds{0.03, 0.5} : Odds{0.6, 0.05};
            break;
        case FaultMode::Intermittent:
        case FaultMode::DryJoint:
            odds = {0.35, 0.35};
            break;
        default:
            break;
        }
    }
    return word == "recovers" ? odds.recovers : word == "worse" ? odds.worse : 1 - odds.recovers - odds.worse;
}

double other_likelihood(const Board& board, const FaultLibrary& library, const Observation& seen, const std::vector<Fault>& faults,
                        const Behaviour& behaviour) {
    if (seen.kind == Seen::Symptom) return symptom_chance(seen.word, behaviour);
    if (seen.kind == Seen::Cooled || seen.kind == Seen::Heated) {
        double chance = temperature_chance(seen.word, seen.kind == Seen::Cooled, nullptr);
        for (const auto& f : faults) // several in one draught of air: what any of them would do
            if (std::find(seen.area.begin(), seen.area.end(), f.part) != seen.area.end() && !seen.renewed.contains(f.part))
                chance = std::max(chance, temperature_chance(seen.word, seen.kind == Seen::Cooled, &f));
        return chance;
    }
    const auto fault = std::find_if(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == seen.part; });
    const bool bad = fault != faults.end() && !seen.renewed.contains(seen.part);
    if (seen.kind == Seen::Verdict) {
        if (seen.word == "good") return bad ? 0.02 : 0.98;
        if (!bad) return 0.02;
        if (!seen.modes.empty() && std::find(seen.modes.begin(), seen.modes.end(), fault->mode) == seen.modes.end()) return 0.1;
        return 0.98;
    }
    if (seen.kind == Seen::Substitute) {
        const bool cured = seen.word == "works" || seen.word == "recovers";
        const bool only = bad && faults.size() == 1;
        return cured ? (only ? 0.9 : bad ? 0.3 : 0.02) : (only ? 0.15 : 0.8);
    }
    // Looks. Soot on a sound part points at what burst beside it.
    if (!bad) {
        const double sooty = kSootShare * blast_on(board, faults, seen.part).share;
        if (seen.word == "soot") return 0.02 + sooty;
        return (seen.word == "fine" ? kHealthyFine : seen.word == "brown" ? 0.02 : 0.004) * (1 - sooty);
    }
    const ModeEntry* mode = library.find(board.part(seen.part).kind, fault->mode);
    if (mode == nullptr) return seen.word == "fine" ? 0.7 : 0.02;
    if (seen.word == "fine") return mode->looks_fine();
    const auto look = mode->looks.find(seen.word);
    return look != mode->looks.end() ? look->second : std::min(0.02, rest_of_odds(0.96));
}

} // namespace ohmo
