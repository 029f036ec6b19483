// SPDX-License-Identifier: GPL-3.0-or-later
// Reading model: Gaussian on the score axis around the prediction, over-range as an outcome of its own, a blunder share spread over the
// whole ruler, so that no single reading makes the truth impossible.
#include "diagnosis/likelihood.h"

#include "base/statistics.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kOverShare = 0.15; // of the blunders show over-range
constexpr double kHealthyFine = 0.985;
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

double rest_of_odds(double share) { return (1 - share) / 3; }

double live_chance(const Board& board, const Observation& seen, const Behaviour& b) {
    const auto density = [&](double mean, double sigma) { return normal_density(seen.value, mean, sigma); };
    for (const auto& rail : board.rails) {
        if (seen.query.red != rail.net_id) continue;
        const double v = rail.volts;
        const double flat = 0.02 / (2 * v);
        switch (b.running) {
        case Running::Normal:
            return density(v, std::max(v * rail.tolerance / 2, 0.02)) + flat;
        case Running::High:
            return density(1.4 * v, 0.25 * v) + flat;
        case Running::Weak:
            return 0.5 * density(v, v * 0.03) + 0.5 * density(0.8 * v, 0.15 * v) + flat;
        case Running::Hiccup:
            return density(0.3 * v, 0.25 * v) + flat;
        default:
            return density(0, 0.04 * v) + flat;
        }
    }
    const auto topology = find_topology(board);
    if (board.mains && seen.query.red == topology.hv && topology.hv >= 0) {
        const double crest = std::numbers::sqrt2 * board.mains->volts;
        const bool charged = b.running != Running::NoInput && b.running != Running::BlowsFuse;
        return (charged ? density(crest, 0.05 * crest) : density(0, 0.03 * crest)) + 0.02 / crest;
    }
    return 1;
}

} // namespace

double reading_likelihood(const Observation& seen, const Prediction& p) {
    const Quantity what = seen.query.what;
    if (what == Quantity::Continuity) return (seen.value > 0.5) == (p.value > 0.5) ? 1 - kBlunder : kBlunder;
    if (!p.converged) return ruler_density(what); // no number, no evidence
    const double flat = kBlunder * ruler_density(what);
    if (seen.over) {
        double chance = 0;
        if (p.over)
            chance = 1;
        else if (what != Quantity::Farads)
            chance = 1 - normal_cdf((over_edge(what) - p.x) / std::max(p.sigma, 0.05));
        return (1 - kBlunder) * chance + kBlunder * kOverShare;
    }
    const double x = score_axis(what, seen.value);
    if (seen.rising) { // the end value lies above what was seen
        const double chance = p.over ? 1.0 : 1 - normal_cdf((x - p.x) / std::max(p.sigma, 0.1));
        return ((1 - kBlunder) * chance * (p.rising || p.over ? 1.0 : 0.3) + kBlunder) * ruler_density(what) * 4;
    }
    if (p.over) {
        // Damp, flux and fingers read as megohms where the model says open.
        const double damp = what == Quantity::Ohms && seen.value > 1e6 ? 0.05 / std::log(20.0) : 0.0;
        return (1 - kBlunder) * damp + flat;
    }
    double density = normal_density(x, p.x, p.sigma);
    if (p.alternate_x) density = 0.5 * density + 0.5 * normal_density(x, *p.alternate_x, p.sigma);
    // Taken before it had settled: anything from a tenth of the end value upwards.
    if (p.rising && x < p.x && x > p.x - std::log(30.0)) density = 0.7 * density + 0.3 / std::log(30.0);
    return (1 - kBlunder) * density + flat;
}

bool shares_tolerances(const Observation& seen, const Prediction& p) {
    if (seen.over || seen.rising || p.over || p.rising || p.alternate_x || !p.converged || p.by_part.empty()) return false;
    return std::fabs(score_axis(seen.query.what, seen.value) - p.x) < kSharedDeviations * p.sigma;
}

std::vector<double> joint_ln_likelihood(const std::vector<std::pair<const Observation*, const Prediction*>>& readings) {
    const auto n = static_cast<Eigen::Index>(readings.size());
    Eigen::MatrixXd covariance(n, n);
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto& a = *readings[static_cast<std::size_t>(i)].second;
        for (Eigen::Index k = 0; k < i; ++k) {
            const auto& b = *readings[static_cast<std::size_t>(k)].second;
            double shared = 0; // both lists ascend by part
            for (auto p = a.by_part.begin(), q = b.by_part.begin(); p != a.by_part.end() && q != b.by_part.end();) {
                if (p->first == q->first) shared += p->second * q->second;
                const bool step_p = p->first <= q->first, step_q = q->first <= p->first;
                if (step_p) ++p;
                if (step_q) ++q;
            }
            // What the meter itself adds is never shared.
            const double most = 0.98 * a.sigma * b.sigma;
            covariance(i, k) = covariance(k, i) = std::clamp(shared, -most, most);
        }
        covariance(i, i) = a.sigma * a.sigma * (1 + 1e-9);
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
        out.push_back(std::log((1 - kBlunder) * normal_density(x, mean, sigma) + kBlunder * ruler_density(what)));
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
        return 0.05;
    default:
        return 0.3;
    }
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
    if (seen.kind == Seen::LiveVolts) return live_chance(board, seen, behaviour);
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
    // Looks.
    if (!bad) return seen.word == "fine" ? kHealthyFine : seen.word == "brown" || seen.word == "soot" ? 0.02 : 0.004;
    const ModeEntry* mode = library.find(board.part(seen.part).kind, fault->mode);
    if (mode == nullptr) return seen.word == "fine" ? 0.7 : 0.02;
    if (seen.word == "fine") return mode->looks_fine();
    const auto look = mode->looks.find(seen.word);
    return look != mode->looks.end() ? look->second : std::min(0.02, rest_of_odds(0.96));
}

} // namespace ohmo
