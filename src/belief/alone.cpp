// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/alone.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ohmo::belief {
namespace {

constexpr int kRounds = 14;
constexpr double kLearned = 0.98;  // of the variance: what was read has told something
constexpr double kAboveSlip = 0.5; // nats: a reading that its mode explains
constexpr double kLeastSpread = 1e-3;

std::vector<Override> learned(const Fit& done, const std::vector<Unknown>& prior, const std::vector<int>& owner, int unit) {
    std::vector<Override> out;
    for (std::size_t k = 0; k < prior.size(); ++k) {
        if (owner[k] != unit || done.slopes.col(static_cast<Eigen::Index>(k)).isZero()) continue;
        const double spread = done.spread_of(static_cast<int>(k));
        if (spread * spread < kLearned * prior[k].spread * prior[k].spread)
            out.push_back({static_cast<int>(k), done.values[k], std::max(kLeastSpread, spread)});
    }
    return out;
}

} // namespace

std::vector<Unknown> prior_in(const Island& island, const UnitMode& mode, const std::vector<Override>& refined) {
    auto out = island.prior;
    for (const auto* given : {&mode.values, &refined})
        for (const auto& o : *given) out[static_cast<std::size_t>(o.unknown)] = {o.middle, o.spread};
    return out;
}

AloneForecast forecast_alone(const Model& model, const Unit& unit, const std::vector<Unknown>& prior,
                             const std::vector<MeterProfile>& meters, Place place) {
    std::vector<double> values;
    for (const auto& p : prior) values.push_back(p.middle);
    const std::vector<std::vector<char>> all_in = {std::vector<char>(model.units.size(), 0)};
    place.setting = 0;
    AloneForecast out;
    out.shown = Network(unit.alone, all_in, meters, values).read(place, nullptr, true);
    for (std::size_t k = 0; k < prior.size(); ++k)
        out.variance += std::pow(out.shown.slope(static_cast<Eigen::Index>(k)) * prior[k].spread, 2);
    return out;
}

AloneFit fit_alone(const Model& model, int number, const std::vector<MeterProfile>& meters, const std::vector<Sight>& seen) {
    const auto& unit = model.units[static_cast<std::size_t>(number)];
    const auto& island = model.islands[static_cast<std::size_t>(unit.island)];
    const Bench bench{{std::vector<char>(model.units.size(), 0)}, meters};
    const FitOptions bell{.rounds = kRounds, .tails = false};
    AloneFit out;
    for (const auto& mode : unit.modes) {
        const auto prior = prior_in(island, mode);
        std::vector<double> start;
        for (const auto& p : prior) start.push_back(p.middle);
        Fit done = fit(unit.alone, bench, prior, start, seen, bell);
        auto each = done.ln;
        std::vector<Sight> explained;
        std::vector<std::size_t> of;
        for (std::size_t j = 0; j < seen.size(); ++j)
            if (done.ln[j] > ln_slip(seen[j]) + kAboveSlip) {
                explained.push_back(seen[j]);
                of.push_back(j);
            }
        if (explained.size() < seen.size()) {
            for (std::size_t j = 0; j < seen.size(); ++j) each[j] = ln_slip(seen[j]);
            if (!explained.empty()) done = fit(unit.alone, bench, prior, start, explained, bell);
            for (std::size_t k = 0; k < of.size(); ++k) each[of[k]] = done.ln[k];
        }
        double ln = explained.empty() ? 0 : done.evidence - std::accumulate(done.ln.begin(), done.ln.end(), 0.0); // of the prior's tails
        ln += std::accumulate(each.begin(), each.end(), 0.0);
        out.ln.push_back(ln);
        out.each.push_back(std::move(each));
        out.refined.push_back(explained.empty() ? std::vector<Override>{} : learned(done, prior, island.owner, number));
    }
    return out;
}

} // namespace ohmo::belief
