// SPDX-License-Identifier: GPL-3.0-or-later
// What others ask of a finished belief.
#include "belief/belief.h"

#include <algorithm>

namespace ohmo::belief {

std::vector<std::pair<int, double>> Belief::direct_reasons(int u) const {
    std::vector<std::pair<int, double>> out;
    const auto& mine = m_marginal[static_cast<std::size_t>(u)];
    if (mine.size() < 2) return out;
    const auto worst = static_cast<std::size_t>(std::max_element(mine.begin() + 1, mine.end()) - mine.begin());
    for (const auto& [entry, ln] : m_entries[static_cast<std::size_t>(u)]) out.emplace_back(entry, ln[worst] - ln[0]);
    return out;
}

std::size_t Belief::states() const {
    std::size_t n = 0;
    for (const auto& i : m_islands) n += i->states().size();
    return n;
}

std::vector<char> Belief::out_of(const BoardState& state, const std::set<int>& renewed) const {
    std::vector<char> out(m_model->units.size(), 0);
    for (std::size_t u = 0; u < out.size(); ++u) {
        const auto& unit = m_model->units[u];
        out[u] = !in_circuit(*m_board, state, unit.part) || unit.renewed != renewed.contains(unit.part);
    }
    return out;
}

} // namespace ohmo::belief
