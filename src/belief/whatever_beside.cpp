// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/whatever_beside.h"

#include "belief/alone.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace ohmo::belief {
namespace {

class Beside {
public:
    Beside(const Model& model, const Bench& bench, double slip) : m_model(model), m_bench(bench), m_slip(std::log(slip)) {
        for (const auto& u : model.units) out.emplace_back(u.modes.size(), 0.0);
    }

    void take(const Island& island, const Sight& sight) {
        if (sight.place.what != Quantity::Ohms) return;
        for (int u : island.units) {
            const Unit& unit = m_model.units[static_cast<std::size_t>(u)];
            const bool linear = unit.alone.junctions.empty() && !unit.alone.conductors.empty();
            if (!linear || m_bench.out[static_cast<std::size_t>(sight.place.setting)][static_cast<std::size_t>(u)] != 0) continue;
            const auto place = on_its_own(unit, island, sight.place);
            if (!place) continue;
            for (std::size_t m = 0; m < unit.modes.size(); ++m)
                out[static_cast<std::size_t>(u)][m] += ln_left(unit, island, unit.modes[m], *place, sight);
        }
    }

    std::vector<std::vector<double>> out;

private:
    static std::optional<Place> on_its_own(const Unit& unit, const Island& island, const Place& place) {
        const auto at = [&](int node) { return unit.alone_node.find(island.nets[static_cast<std::size_t>(node)]); };
        const auto red = at(place.red), black = at(place.black);
        if (red == unit.alone_node.end() || black == unit.alone_node.end()) return std::nullopt;
        Place alone = place;
        alone.red = red->second;
        alone.black = black->second;
        return alone;
    }

    // Only a reading above what the part alone would show counts.
    double ln_left(const Unit& unit, const Island& island, const UnitMode& mode, const Place& place, const Sight& sight) const {
        const auto alone = forecast_alone(m_model, unit, prior_in(island, mode), m_bench.meters, place);
        const double above = (sight.touch.y - alone.shown.y) / std::hypot(sight.touch.noise, std::sqrt(alone.variance));
        return above <= 0 ? 0 : std::max(-above * above / 2, m_slip);
    }

    const Model& m_model;
    const Bench& m_bench;
    double m_slip;
};

} // namespace

std::vector<std::vector<double>> ln_whatever_beside(const Model& model, const Bench& bench, const std::vector<std::vector<Sight>>& seen,
                                                    double slip) {
    Beside beside(model, bench, slip);
    for (std::size_t c = 0; c < seen.size(); ++c)
        for (const auto& sight : seen[c]) beside.take(model.islands[c], sight);
    return std::move(beside.out);
}

} // namespace ohmo::belief
