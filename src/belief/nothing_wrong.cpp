// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/nothing_wrong.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ohmo::belief {
namespace {

constexpr double kLeast = 1e-300; // chance whose logarithm is taken

// The state of an island whose enumerated parts are all fine.
const State* fine_state(const IslandSearch& island) {
    for (const auto& s : island.states()) {
        bool all = true;
        for (std::size_t i = 0; i < s->mode.size(); ++i) all = all && (!island.enumerated(i) || s->mode[i] == 0);
        if (all) return s.get();
    }
    return nullptr;
}

double over_ages(const ByAge& ln) {
    double sum = kNone;
    for (double age : ln) sum = ln_sum(sum, age);
    return sum;
}

} // namespace

std::optional<ByAge> ln_nothing_wrong(const std::vector<std::unique_ptr<IslandSearch>>& islands, const Ages& ages) {
    ByAge ln{};
    for (int a = 0; a < kAges; ++a) ln[a] = std::log(ages.chance[static_cast<std::size_t>(a)]);
    std::vector<double> chances;
    for (const auto& island : islands) {
        const State* fine = fine_state(*island);
        if (fine == nullptr) return std::nullopt;
        for (int a = 0; a < kAges; ++a) {
            ln[a] += fine->ln_all[a];
            for (std::size_t i = 0; i < fine->mode.size(); ++i) {
                if (island->enumerated(i)) continue;
                island->odds().leaf(i, fine, a, chances);
                const double sum = std::accumulate(chances.begin(), chances.end(), 0.0);
                ln[a] += std::log(std::max(chances[0], kLeast) / std::max(sum, kLeast));
            }
        }
    }
    return ln;
}

double ln_of_itself(const std::optional<ByAge>& fine, const Complaints& complaints) {
    if (!fine) return kNone;
    double ln = over_ages(*fine);
    for (const auto& c : complaints.list) ln += std::log(c.leak());
    return ln;
}

double ln_outside(const std::optional<ByAge>& fine, const Complaints& complaints, Outside cause) {
    if (!fine || complaints.list.empty()) return kNone;
    double ln = over_ages(*fine);
    for (const auto& c : complaints.list)
        ln += std::log(std::max(kLeast, &c == &complaints.list.back() ? c.outside.weight(cause) : c.outside.all()));
    return ln;
}

} // namespace ohmo::belief
