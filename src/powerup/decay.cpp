// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/decay.h"

#include "board/nominal.h"
#include "circuit/energised.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kSigmas = 3;        // a change beyond this many deviations is one
constexpr double kLeastVolts = 0.02; // below a meter shows its own offset

struct Point {
    double t, y, weight; // seconds, ln volts, 1/variance
};

} // namespace

Decay fit_decay(const Practice& p, const std::vector<ChargeReading>& readings, double predicted_tau) {
    std::vector<ChargeReading> seen;
    for (const auto& r : readings)
        if (r.volts > kLeastVolts) seen.push_back(r);
    Decay out;
    if (seen.size() < 2 || seen.back().at_seconds <= seen.front().at_seconds) return out;
    const auto doubt = [&](double volts) { return std::hypot(p.decay_share, p.decay_volts / volts); };
    const auto& last = seen.back();
    const auto& before = seen[seen.size() - 2];
    if (std::log(last.volts / before.volts) > kSigmas * std::hypot(doubt(last.volts), doubt(before.volts))) {
        const double high =
            std::max_element(seen.begin(), seen.end(), [](const auto& a, const auto& b) { return a.volts < b.volts; })->volts;
        out.verdict = last.volts <= p.recovered_share * high ? DecayVerdict::Recovers : DecayVerdict::Rises;
        return out;
    }
    if (std::log(seen.front().volts / last.volts) < kSigmas * std::hypot(doubt(seen.front().volts), doubt(last.volts))) {
        out.verdict = DecayVerdict::Stands; // whatever the clock
        return out;
    }
    double slope = 0;
    for (int round = 0; round < 3; ++round) { // the doubt of the clock is one of volts by the slope
        double w = 0, wt = 0, wy = 0;
        std::vector<Point> points;
        for (const auto& r : seen) {
            const double sigma = std::hypot(doubt(r.volts), p.decay_seconds_doubt * slope);
            points.push_back({r.at_seconds, std::log(r.volts), 1 / (sigma * sigma)});
        }
        for (const auto& [t, y, weight] : points) {
            w += weight;
            wt += weight * t;
            wy += weight * y;
        }
        out.middle_seconds = wt / w;
        out.middle_ln_volts = wy / w;
        out.ln_volts_sigma = 1 / std::sqrt(w);
        double tt = 0, ty = 0;
        for (const auto& [t, y, weight] : points) {
            tt += weight * (t - out.middle_seconds) * (t - out.middle_seconds);
            ty += weight * (t - out.middle_seconds) * (y - out.middle_ln_volts);
        }
        slope = -ty / tt;
        out.tau_sigma = 1 / std::sqrt(tt); // of the slope, until the end
    }
    if (slope <= 0) return out; // fell, rose and fell again
    out.tau = 1 / slope;
    out.tau_sigma *= out.tau * out.tau;
    out.verdict = predicted_tau <= 0                      ? DecayVerdict::Falls
                  : out.tau > p.decay_odd * predicted_tau ? DecayVerdict::Slow
                  : out.tau * p.decay_odd < predicted_tau ? DecayVerdict::Fast
                                                          : DecayVerdict::Falls;
    return out;
}

std::optional<When> when_below(const Decay& d, double volts) {
    if (d.tau <= 0 || volts <= 0) return std::nullopt;
    const double after = (d.middle_ln_volts - std::log(volts)) * d.tau;
    return When{d.middle_seconds + after, std::hypot(d.ln_volts_sigma * d.tau, after * d.tau_sigma / d.tau)};
}

double most_volts(const Board& board) { return board.mains ? board.mains->volts * std::numbers::sqrt2 * 2 * 1.1 : 0; }

std::vector<Store> charged_stores(const Board& board, const BoardRoles& roles) {
    const Practice& p = board.practice();
    const double crest = bulk_volts(board, roles);
    struct Gathered {
        Store store;
        double known = 0, rated = 0; // volts of the mains or of a rail; four fifths of a rating, where neither is known
    };
    std::map<std::pair<NetId, NetId>, Gathered> by_place;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (!is_capacitor(part.kind)) continue;
        const auto value = likely_value(part);
        if (!value || !value->farads) continue;
        const NetId a = part.pins[0].id, b = part.pins[1].id;
        auto& [store, known, rated] = by_place[std::minmax(a, b)];
        for (const auto& rail : board.rails)
            if (std::minmax(rail.net_id, rail.return_id) == std::minmax(a, b)) known = std::max(known, std::fabs(rail.volts));
        if (std::find(roles.bulk.begin(), roles.bulk.end(), i) != roles.bulk.end()) {
            store.bulk = true;
            known = std::max(known, roles.stacked ? crest / static_cast<double>(roles.bulk.size()) : crest);
        }
        rated = std::max(rated, 0.8 * value->volts.value_or(0));
        store.parts.push_back(i);
        store.farads += *value->farads;
    }
    std::vector<Store> out;
    for (auto& [place, gathered] : by_place) {
        auto& store = gathered.store;
        store.volts = gathered.known > 0 ? gathered.known : gathered.rated;
        store.joules = stored_joules(store.farads, store.volts);
        const bool hurts = store.volts >= hazard_volts() && store.joules >= p.charge_joules;
        if (hurts || store.joules >= p.weld_joules) out.push_back(std::move(store));
    }
    std::stable_sort(out.begin(), out.end(), [](const Store& a, const Store& b) { return a.joules > b.joules; });
    return out;
}

} // namespace ohmo
