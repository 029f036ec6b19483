// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/off_the_map.h"

#include "belief/axis.h"

#include <cmath>
#include <numeric>

namespace ohmo::belief {
namespace {

constexpr int kUsualAge = 1;

} // namespace

OffTheMap off_the_map(const IslandSearch& island, std::size_t position, const std::vector<double>& beside) {
    OffTheMap out;
    island.odds().leaf(position, nullptr, kUsualAge, out.chances);
    const double before = std::accumulate(out.chances.begin(), out.chances.end(), 0.0);
    for (std::size_t m = 0; m < out.chances.size(); ++m) out.chances[m] *= std::exp(beside[m]);
    const double after = std::accumulate(out.chances.begin(), out.chances.end(), 0.0);
    if (after <= 0) return {std::vector<double>(out.chances.size(), 0), 0};
    for (double& c : out.chances) c /= after;
    out.ln = std::log(after / before);
    return out;
}

double ln_off_the_map(const std::vector<std::unique_ptr<IslandSearch>>& islands, const Complaints& complaints,
                      const std::vector<std::vector<double>>& beside, double chance) {
    double ln = std::log(chance);
    for (const auto& c : complaints.list) ln += std::log(c.made_up);
    for (const auto& island : islands) {
        ln += island->odds().ln_everything(kUsualAge);
        for (const auto& s : island->seen()) ln += ln_broad(s.place.what);
        const auto& units = island->island().units;
        for (std::size_t i = 0; i < units.size(); ++i) ln += off_the_map(*island, i, beside[static_cast<std::size_t>(units[i])]).ln;
    }
    return ln;
}

} // namespace ohmo::belief
