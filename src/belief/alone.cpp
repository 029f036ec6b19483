// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/alone.h"

#include <cmath>

namespace ohmo::belief {

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

} // namespace ohmo::belief
