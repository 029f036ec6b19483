// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/bands.h"

#include "advice/forecasts.h"
#include "advice/next_reading.h"
#include "base/statistics.h"
#include "belief/axis.h"
#include "circuit/square_wave.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr double kWorthNaming = 0.04; // of a band's chance
constexpr std::size_t kNamed = 6;
constexpr double kWorthHalving = 0.1, kNearlyAll = 0.7; // bits; chance of a band that says nothing as it stands
constexpr double kNowhere = 1e300, kReach = 1.6, kLeastCase = 0.002;

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
std::vector<Band> bands_with(Quantity what, const std::vector<Case>& cases, const std::map<Fault, double>& everywhere, double cut) {
    const double edge = belief::axis_over(what);
    std::vector<Band> out;
    std::map<Fault, double> inside;
    double lo = 0, hi = 0, reach = 0, last = -kNowhere, ended = -kNowhere; // where the band before ended
    const auto close = [&] {
        if (out.empty()) return;
        Band& band = out.back();
        if (!band.over) {
            band.lo = belief::axis_value(what, lo);
            band.hi = belief::axis_value(what, std::min(hi, edge));
        }
        band.story = distinguishing(inside, band.p, everywhere);
        band.suspects = suspects(inside, band.p);
        ended = hi;
    };
    for (const auto& c : cases) {
        const auto& o = c.outcome;
        if (o.p < kLeastCase) continue;
        const bool over = o.y > edge;
        const double half = kReach * o.spread;
        const bool halved = !over && last <= cut && o.y > cut && !out.empty();
        const bool joins = !out.empty() && out.back().over == over && (over || o.y - half < reach) && !halved;
        if (halved) hi = std::min(hi, cut);
        if (!joins) {
            close();
            out.emplace_back();
            out.back().over = over;
            inside.clear();
            lo = std::max(ended, halved ? std::max(cut, o.y - half) : o.y - half);
            hi = reach = o.y + half;
        }
        last = o.y;
        out.back().p += o.p;
        lo = std::min(lo, std::max(ended, o.y > cut ? std::max(cut, o.y - half) : o.y - half));
        hi = std::max(hi, o.y + half);
        reach = std::max(reach, o.y + half);
        for (const auto& f : c.faults) inside[f] += o.p;
    }
    close();
    return out;
}

// Where the stories below become less likely than those above: parted so that the chances of both sides are most nearly equal.
double middle(Quantity what, const std::vector<Case>& cases) {
    std::vector<Outcome> in;
    for (const auto& c : cases)
        if (c.outcome.y <= belief::axis_over(what)) in.push_back(c.outcome);
    if (in.size() < 2) return kNowhere;
    double whole = 0, below = 0, uneven = kNowhere;
    for (const auto& o : in) whole += o.p;
    std::size_t first_above = 0;
    for (std::size_t k = 0; k + 1 < in.size(); ++k) {
        below += in[k].p;
        if (in[k + 1].y - in[k].y < std::min(in[k].spread, in[k + 1].spread) || std::fabs(2 * below - whole) >= uneven)
            continue; // hardly told apart
        uneven = std::fabs(2 * below - whole);
        first_above = k + 1;
    }
    if (first_above == 0) return kNowhere;
    const auto likelier_below = [&](double x) {
        double gap = 0;
        for (std::size_t k = 0; k < in.size(); ++k) gap += (k < first_above ? 1 : -1) * in[k].p * normal_density(x, in[k].y, in[k].spread);
        return gap > 0;
    };
    double lo = in[first_above - 1].y, hi = in[first_above].y;
    if (!likelier_below(lo) || likelier_below(hi)) return (lo + hi) / 2;
    for (int halvings = 0; halvings < 40; ++halvings) (likelier_below((lo + hi) / 2) ? lo : hi) = (lo + hi) / 2;
    return hi;
}

} // namespace

std::vector<Band> bands_of(Quantity what, std::vector<Case> cases, const std::optional<Outcome>& healthy, double bits) {
    double whole = 0;
    for (const auto& c : cases) whole += c.outcome.p;
    std::map<Fault, double> everywhere;
    for (auto& c : cases) {
        c.outcome.p /= std::max(whole, 1e-12);
        for (const auto& f : c.faults) everywhere[f] += c.outcome.p;
    }
    std::stable_sort(cases.begin(), cases.end(), [](const Case& a, const Case& b) { return a.outcome.y < b.outcome.y; });
    auto out = bands_with(what, cases, everywhere, kNowhere);
    if (bits > kWorthHalving && std::any_of(out.begin(), out.end(), [](const Band& b) { return b.p > kNearlyAll && !b.over; }))
        out = bands_with(what, cases, everywhere, middle(what, cases));
    if (!healthy) return out;
    // The healthy band is shown even when no living story is healthy here.
    const bool over = healthy->y > belief::axis_over(what);
    const double value = belief::axis_value(what, healthy->y);
    const auto mine =
        std::find_if(out.begin(), out.end(), [&](const Band& b) { return over ? b.over : !b.over && value >= b.lo && value <= b.hi; });
    if (mine != out.end()) {
        mine->healthy = true;
        return out;
    }
    Band band;
    if (!over) {
        band.lo = belief::axis_value(what, healthy->y - kReach * healthy->spread);
        band.hi = belief::axis_value(what, std::min(healthy->y + kReach * healthy->spread, belief::axis_over(what)));
        for (const auto& b : out) // beside its neighbours, not over them
            if (!b.over) {
                if (b.hi < value) band.lo = std::max(band.lo, b.hi);
                if (b.lo > value) band.hi = std::min(band.hi, b.lo);
            }
    }
    band.over = over;
    band.healthy = true;
    out.push_back(band);
    std::stable_sort(out.begin(), out.end(), [](const Band& a, const Band& b) { return a.over != b.over ? b.over : a.lo < b.lo; });
    return out;
}

std::vector<Band> reading_bands(const Board& board, const Assessment& assessment, const Evidence& evidence, const Query& query) {
    Forecasts forecasts(board, *assessment.belief, evidence);
    auto out = bands_of(query.what, forecasts.cases(query), forecasts.healthy(query));
    if (query.what == Quantity::Residue) { // weighed as ohms, shown as the scope shows it
        const auto& generator = evidence.meters[static_cast<std::size_t>(query.meter)];
        for (auto& band : out)
            for (double* limit : {&band.lo, &band.hi})
                *limit = residue_of_esr(*limit, generator.square_open_volts(), generator.square_ohms);
    }
    return out;
}

} // namespace ohmo
