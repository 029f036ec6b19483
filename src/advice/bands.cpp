// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/bands.h"

#include "advice/outcomes.h"
#include "base/statistics.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr double kWorthNaming = 0.04; // of a band's chance
constexpr std::size_t kNamed = 6;
constexpr double kWorthHalving = 0.1, kNearlyAll = 0.7; // bits; chance of a band that says nothing as it stands
constexpr double kNowhere = 1e300;

std::vector<Signature> merged(const std::vector<Signature>& sigs) {
    std::vector<Signature> out;
    std::map<Alike, std::size_t> index;
    for (const auto& sig : sigs) {
        const auto [at, fresh] = index.try_emplace(alike(*sig.prediction), out.size());
        if (fresh) {
            out.push_back(sig);
            continue;
        }
        auto& into = out[at->second];
        into.p += sig.p;
        into.carriers.insert(into.carriers.end(), sig.carriers.begin(), sig.carriers.end());
    }
    return out;
}

// The fault that tells this group from the others.
std::optional<Fault> distinguishing(const std::map<Fault, double>& inside, double mass, const std::map<Fault, double>& everywhere) {
    std::optional<Fault> best;
    double gain = 0.15;
    for (const auto& [fault, p] : inside) {
        const double here = p / mass;
        const double rest = mass < 0.9999 ? (everywhere.at(fault) - p) / (1 - mass) : 0;
        if (here - std::max(rest, 0.0) > gain) {
            gain = here - std::max(rest, 0.0);
            best = fault;
        }
    }
    return best;
}

std::vector<std::pair<int, double>> suspects(const std::map<Fault, double>& inside, double mass) {
    std::map<int, double> by_part;
    for (const auto& [fault, p] : inside) by_part[fault.part] += p / mass;
    std::vector<std::pair<int, double>> out(by_part.begin(), by_part.end());
    std::erase_if(out, [](const auto& s) { return s.second < kWorthNaming; });
    std::stable_sort(out.begin(), out.end(), [](const auto& a, const auto& b) { return a.second > b.second; });
    if (out.size() > kNamed) out.resize(kNamed);
    return out;
}

// Neighbours that overlap are one band, but for a boundary at `cut`.
std::vector<Band> bands_with(const Query& query, const Living& living, const std::vector<Signature>& sigs,
                             const std::map<Fault, double>& everywhere, double cut) {
    std::vector<Band> out;
    std::map<Fault, double> inside;
    double x_lo = 0, x_hi = 0, reach = 0, last = -kNowhere, ended = -kNowhere; // where the band before ended
    const auto close = [&] {
        if (out.empty()) return;
        Band& band = out.back();
        if (!band.over) {
            band.lo = score_value(query.what, x_lo);
            band.hi = score_value(query.what, x_hi);
        }
        band.story = distinguishing(inside, band.p, everywhere);
        band.suspects = suspects(inside, band.p);
        ended = x_hi;
    };
    for (const auto& sig : sigs) {
        if (sig.p < 0.002) continue;
        const Prediction& p = *sig.prediction;
        const double half = 1.6 * std::max(p.sigma, 0.01);
        const bool halved = !p.over && last <= cut && p.x > cut && !out.empty();
        const bool joins = !out.empty() && out.back().over == p.over && (p.over || p.x - half < reach) && !halved;
        if (halved) x_hi = std::min(x_hi, cut);
        if (!joins) {
            close();
            out.emplace_back();
            out.back().over = p.over;
            inside.clear();
            x_lo = std::max(ended, halved ? std::max(cut, p.x - half) : p.x - half);
            x_hi = reach = p.x + half;
        }
        last = p.x;
        out.back().p += sig.p;
        x_lo = std::min(x_lo, std::max(ended, p.x > cut ? std::max(cut, p.x - half) : p.x - half));
        x_hi = std::max(x_hi, p.x + half);
        reach = std::max(reach, p.x + half);
        for (std::size_t s : sig.carriers)
            for (const auto& fault : living.faults[s]) inside[fault] += living.weights[s];
    }
    close();
    return out;
}

// Where the stories below become less likely than those above: parted so that the chances of both sides are most nearly equal.
double middle(const std::vector<Signature>& sigs) {
    const auto ends = std::find_if(sigs.begin(), sigs.end(), [](const Signature& sig) { return sig.prediction->over; });
    const auto count = static_cast<std::size_t>(ends - sigs.begin());
    if (count < 2) return kNowhere;
    double whole = 0, below = 0, uneven = kNowhere;
    for (std::size_t k = 0; k < count; ++k) whole += sigs[k].p;
    std::size_t first_above = 0;
    for (std::size_t k = 0; k + 1 < count; ++k) {
        below += sigs[k].p;
        const Prediction &p = *sigs[k].prediction, &next = *sigs[k + 1].prediction;
        if (next.x - p.x < std::min(p.sigma, next.sigma) || std::fabs(2 * below - whole) >= uneven) continue; // hardly told apart
        uneven = std::fabs(2 * below - whole);
        first_above = k + 1;
    }
    if (first_above == 0) return kNowhere;
    const auto likelier_below = [&](double x) {
        double gap = 0;
        for (std::size_t k = 0; k < count; ++k) {
            const Prediction& p = *sigs[k].prediction;
            gap += (k < first_above ? 1 : -1) * sigs[k].p * normal_density(x, p.x, std::max(p.sigma, 0.01));
        }
        return gap > 0;
    };
    double lo = sigs[first_above - 1].prediction->x, hi = sigs[first_above].prediction->x;
    if (!likelier_below(lo) || likelier_below(hi)) return (lo + hi) / 2;
    for (int halvings = 0; halvings < 40; ++halvings) (likelier_below((lo + hi) / 2) ? lo : hi) = (lo + hi) / 2;
    return hi;
}

} // namespace

std::vector<Signature> signatures(const Predictor& predictor, const Query& query, const Living& living, std::size_t told, bool carriers) {
    const std::size_t count = std::min(told, living.sets.size());
    const std::vector<SetId> sets(living.sets.begin(), living.sets.begin() + static_cast<long>(count));
    const auto predictions = predictor.predict_all(query, sets);
    std::vector<Signature> out;
    std::vector<int> index;                         // by number of the prediction, of stories without a group
    std::map<std::pair<int, int>, int> conditioned; // by number and group
    for (std::size_t s = 0; s < count; ++s) {
        const int number = predictions[s]->number, group = living.conditioning.group(s);
        if (index.size() <= static_cast<std::size_t>(number)) index.resize(static_cast<std::size_t>(number) + 1, -1);
        int& at = group == 0 ? index[static_cast<std::size_t>(number)] : conditioned.try_emplace({number, group}, -1).first->second;
        if (at < 0) {
            at = static_cast<int>(out.size());
            Signature& fresh = out.emplace_back();
            fresh.prediction = predictions[s];
            if (auto given = living.conditioning.given(group, *predictions[s])) {
                fresh.given = std::make_shared<const Prediction>(std::move(*given));
                fresh.prediction = fresh.given.get();
            }
        }
        auto& sig = out[static_cast<std::size_t>(at)];
        sig.p += living.weights[s];
        if (carriers) sig.carriers.push_back(s);
    }
    return out;
}

std::vector<Band> bands_of(const Predictor& predictor, const Query& query, const Living& living, double bits) {
    auto sigs = merged(signatures(predictor, query, living));
    const Prediction healthy = predictor.predict(query, {});
    std::map<Fault, double> everywhere;
    for (const auto& sig : sigs)
        for (std::size_t s : sig.carriers)
            for (const auto& fault : living.faults[s]) everywhere[fault] += living.weights[s];
    std::stable_sort(sigs.begin(), sigs.end(), [](const Signature& a, const Signature& b) {
        return a.prediction->over != b.prediction->over ? b.prediction->over : a.prediction->x < b.prediction->x;
    });
    const auto joined = [&](double cut) { return bands_with(query, living, sigs, everywhere, cut); };
    auto out = joined(kNowhere);
    if (bits > kWorthHalving && std::any_of(out.begin(), out.end(), [](const Band& b) { return b.p > kNearlyAll && !b.over; }))
        out = joined(middle(sigs));
    // The healthy band is shown even when no living story is healthy here.
    const double lo = score_value(query.what, healthy.x - 1.6 * healthy.sigma),
                 hi = score_value(query.what, healthy.x + 1.6 * healthy.sigma);
    const auto holds = [&](const Band& b) { return healthy.over ? b.over : !b.over && healthy.value >= b.lo && healthy.value <= b.hi; };
    const auto mine = std::find_if(out.begin(), out.end(), holds);
    if (mine != out.end()) {
        mine->healthy = true;
    } else {
        Band band;
        band.lo = healthy.over ? 0 : lo;
        band.hi = healthy.over ? 0 : hi;
        band.over = healthy.over;
        band.healthy = true;
        out.push_back(band);
        std::stable_sort(out.begin(), out.end(), [](const Band& a, const Band& b) { return a.over != b.over ? b.over : a.lo < b.lo; });
    }
    return out;
}

} // namespace ohmo
