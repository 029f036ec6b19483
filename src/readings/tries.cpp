// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/tries.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr int kSteps = 400; // of the integral over a chance
constexpr int kMostToProve = 200;

// ln of Beta(good + 1, bad + 1) at p, up to a constant.
double ln_beta(double p, int good, int bad) { return good * std::log(p) + bad * std::log1p(-p); }

// Chance that the first rate lies above the second.
double chance_above(int good, int bad, int other_good, int other_bad) {
    double below = 0, above = 0, first = 0;
    for (int k = 0; k < kSteps; ++k) {
        const double p = (k + 0.5) / kSteps;
        const double second_here = std::exp(ln_beta(p, other_good, other_bad)), first_here = std::exp(ln_beta(p, good, bad));
        above += first_here * (below + second_here / 2);
        below += second_here;
        first += first_here;
    }
    const double all = first * below;
    return all > 0 ? above / all : 0.5;
}

// Normal approximation of Kendall's count of pairs in falling order, with its correction for continuity.
double chance_shorter(const std::vector<double>& lived) {
    const auto n = static_cast<double>(lived.size());
    if (lived.size() < 3) return 0.5;
    int score = 0;
    for (std::size_t i = 0; i < lived.size(); ++i)
        for (std::size_t j = i + 1; j < lived.size(); ++j) score += lived[j] < lived[i] ? 1 : lived[j] > lived[i] ? -1 : 0;
    if (score == 0) return 0.5;
    const double spread = std::sqrt(n * (n - 1) * (2 * n + 5) / 18), z = (score > 0 ? score - 1 : score + 1) / spread;
    return 0.5 * (1 + std::erf(z / std::numbers::sqrt2));
}

} // namespace

double luck_of(const TryTrend& before, int right) {
    double luck = 1; // Laplace's rule, one try after the other
    for (int k = 0; k < right; ++k) {
        const double good = before.tries - before.faults + 1 + k;
        luck *= good / (good + before.faults + 1);
    }
    return luck;
}

TryTrend trend_of(const Practice& p, const std::vector<Try>& tries) {
    TryTrend out;
    for (const auto& t : tries) {
        const bool starts = t.how != Tried::Fails;
        ++out.tries;
        out.faults += t.how == Tried::Runs ? 0 : 1;
        if (t.how == Tried::Dies && t.seconds) out.lived.push_back(*t.seconds);
        if (!t.warm) continue;
        (*t.warm ? out.warm : out.cold) += 1;
        (*t.warm ? out.warm_starts : out.cold_starts) += starts ? 1 : 0;
    }
    if (out.warm > 0 && out.cold > 0)
        out.warm_better = chance_above(out.warm_starts, out.warm - out.warm_starts, out.cold_starts, out.cold - out.cold_starts);
    out.shorter = chance_shorter(out.lived);
    const auto died = std::count_if(tries.begin(), tries.end(), [](const Try& t) { return t.how == Tried::Dies; });
    if (out.tries >= p.tries_fewest && out.faults > 0) {
        if (out.warm_better > p.tries_show)
            out.word = "starts-when-warm";
        else if (2 * died > out.faults)
            out.word = "dies-after-minutes";
        else if (out.faults < out.tries)
            out.word = "comes-and-goes";
    }
    if (out.faults > 0)
        for (int n = 1; n <= kMostToProve && !out.to_prove; ++n)
            if (luck_of(out, n) <= p.tries_luck) out.to_prove = n;
    return out;
}

} // namespace ohmo
