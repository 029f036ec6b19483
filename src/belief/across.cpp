// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/across.h"

namespace ohmo::belief {
namespace {

constexpr double kCrosses = 0.01;    // chance from which it is worth searching again
constexpr double kMostBrought = 0.9; // of all modes together

} // namespace

std::map<std::size_t, std::map<int, std::vector<double>>> brought_across(const Model& model, const Net& net,
                                                                         const std::vector<std::unique_ptr<IslandSearch>>& islands) {
    const auto island_of = [&](int unit) { return static_cast<std::size_t>(model.units[static_cast<std::size_t>(unit)].island); };
    std::map<std::size_t, std::map<int, std::vector<double>>> out;
    for (const auto& e : net.edges) {
        const std::size_t from = island_of(e.parent), to = island_of(e.child);
        if (from == to) continue;
        const double chance = e.chance * islands[from]->alone(e.parent, e.parent_mode);
        if (chance < kCrosses) continue;
        auto& by_mode = out[to].try_emplace(e.child, model.units[static_cast<std::size_t>(e.child)].modes.size(), 0.0).first->second;
        double& p = by_mode[static_cast<std::size_t>(e.child_mode)];
        p = 1 - (1 - p) * (1 - chance);
    }
    for (auto& [island, units] : out)
        for (auto& [unit, by_mode] : units) {
            double all = 0;
            for (double p : by_mode) all += p;
            if (all > kMostBrought)
                for (double& p : by_mode) p *= kMostBrought / all;
        }
    return out;
}

} // namespace ohmo::belief
