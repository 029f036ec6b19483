// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/choice.h"

#include <algorithm>
#include <set>

namespace ohmo {

void best_first(std::vector<NextAct>& acts) {
    std::stable_sort(acts.begin(), acts.end(), [](const NextAct& a, const NextAct& b) { return a.rate() > b.rate() + 1e-9; });
}

void keep_a_choice(std::vector<NextAct>& acts, std::size_t most) {
    if (acts.size() <= most) return;
    const auto way = [](const NextAct& a) {
        return a.why == NextAct::Why::Again ? 0
               : a.act != Act::Read         ? 1 + static_cast<int>(a.act)
               : a.query.alone >= 0         ? 10
               : a.to_lift.empty()          ? 11
                                            : 12;
    };
    std::set<int> ways;
    std::vector<std::size_t> first, rest;
    for (std::size_t k = 0; k < acts.size(); ++k) (ways.insert(way(acts[k])).second ? first : rest).push_back(k);
    if (first.size() > most) first.resize(most);
    for (std::size_t k = 0; first.size() < most && k < rest.size(); ++k) first.push_back(rest[k]);
    std::sort(first.begin(), first.end());
    std::vector<NextAct> kept;
    for (std::size_t k : first) kept.push_back(std::move(acts[k]));
    acts = std::move(kept);
}

} // namespace ohmo
