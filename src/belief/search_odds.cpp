// SPDX-License-Identifier: GPL-3.0-or-later
// What the states of an island weigh: the chances of their modes in the net, of the leaves beside them, and what complaints say.
#include "belief/search.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo::belief {

int IslandSearch::mode_of(const State* state, int unit) const {
    const int at = m_position[static_cast<std::size_t>(unit)];
    return state == nullptr || at < 0 || m_enumerated[static_cast<std::size_t>(at)] == 0 ? 0 : state->mode[static_cast<std::size_t>(at)];
}

template <class ModeOf>
void IslandSearch::chances(std::size_t position, int age, const ModeOf& mode_of, std::vector<double>& out) const {
    const int u = m_island.units[position];
    mode_chances(unit(position), m_net.edges, m_net.into[static_cast<std::size_t>(u)], m_ages.factor[static_cast<std::size_t>(age)],
                 mode_of, out);
    const auto brought = m_brought.find(u);
    if (brought == m_brought.end()) return;
    double any = 0;
    for (double p : brought->second) any += p;
    for (std::size_t m = 0; m < out.size(); ++m) out[m] = out[m] * (1 - any) + brought->second[m];
}

double IslandSearch::alone(int unit, int mode) const {
    const auto at = static_cast<std::size_t>(position(unit));
    double all = kNone, those = kNone;
    for (const auto& s : m_states) {
        all = ln_sum(all, s->score);
        if (s->mode[at] == mode) those = ln_sum(those, s->score);
    }
    return those <= kNone / 2 ? 0 : std::exp(those - all);
}

void IslandSearch::leaf(std::size_t position, const State* state, int age, std::vector<double>& out) const {
    const int u = m_island.units[position];
    chances(
        position, age, [&](int parent) { return mode_of(state, parent); }, out);
    const auto& ln = m_direct.ln[static_cast<std::size_t>(u)];
    for (std::size_t m = 0; m < out.size(); ++m) out[m] *= std::exp(ln[m]);
}

IslandSearch::Leaf IslandSearch::leaf_sums(std::size_t position, const State* state, int age) const {
    const int u = m_island.units[position];
    std::vector<double> by_mode;
    leaf(position, state, age, by_mode);
    Leaf out;
    double all = 0;
    for (double c : by_mode) all += c;
    out.ln_all = std::log(all + 1e-300);
    for (int s = 1; s < m_complaints.subsets(); ++s) {
        double silent = 0;
        for (std::size_t m = 0; m < by_mode.size(); ++m) silent += by_mode[m] * m_complaints.silent(u, static_cast<int>(m), s);
        out.ln_silent[s] = std::log(silent + 1e-300);
    }
    return out;
}

double IslandSearch::ln_everything(int age) const {
    double out = 0;
    for (std::size_t i = 0; i < m_island.units.size(); ++i) out += leaf_sums(i, nullptr, age).ln_all;
    return out;
}

// Sums over the leaves without any parent standing, and the chances of those that are enumerated.
void IslandSearch::base_leaves() {
    for (int a = 0; a < kAges; ++a) {
        m_leaf[a].assign(m_island.units.size(), {});
        m_ln_chance[a].assign(m_island.units.size(), {});
        std::fill(std::begin(m_leaves[a]), std::end(m_leaves[a]), 0.0);
        for (std::size_t i = 0; i < m_island.units.size(); ++i) {
            if (m_enumerated[i] != 0) {
                chances(
                    i, a, [](int) { return 0; }, m_ln_chance[a][i]);
                for (double& p : m_ln_chance[a][i]) p = std::log(p + 1e-300);
                continue;
            }
            m_leaf[a][i] = leaf_sums(i, nullptr, a);
            m_leaves[a][0] += m_leaf[a][i].ln_all;
            for (int s = 1; s < m_complaints.subsets(); ++s) m_leaves[a][s] += m_leaf[a][i].ln_silent[s];
        }
    }
}

// What the parts of a circle that stand have to give back: one by one, each would count the others as its cause. Each in the mode in which
// it stands: two capacitors that short each other do not do so because one of them is dry.
double IslandSearch::circles(const State& state, int age) const {
    std::map<int, std::vector<std::size_t>> standing;
    for (std::size_t i = 0; i < state.mode.size(); ++i)
        if (const int c = m_net.circle[static_cast<std::size_t>(m_island.units[i])]; c >= 0 && state.mode[i] != 0 && m_enumerated[i] != 0)
            standing[c].push_back(i);
    double out = 0;
    std::vector<double> at;
    for (const auto& [c, positions] : standing) {
        const std::size_t n = positions.size();
        if (n < 2) continue;
        std::vector<double> own;
        std::vector<std::vector<double>> by(n, std::vector<double>(n, 0));
        for (std::size_t j = 0; j < n; ++j) {
            const auto mode = state.mode[positions[j]];
            const auto& into = m_net.into[static_cast<std::size_t>(m_island.units[positions[j]])];
            const auto in_its_mode = [&](bool with_equals) {
                const auto counted = [&](int parent) {
                    return with_equals || m_net.circle[static_cast<std::size_t>(parent)] != c ? mode_of(&state, parent) : 0;
                };
                chances(positions[j], age, counted, at);
                return at[mode];
            };
            out -= std::log(in_its_mode(true) + 1e-12);
            own.push_back(in_its_mode(false));
            for (int e : into) {
                const auto& edge = m_net.edges[static_cast<std::size_t>(e)];
                if (edge.child_mode != mode || mode_of(&state, edge.parent) != edge.parent_mode) continue;
                for (std::size_t i = 0; i < n; ++i)
                    if (m_island.units[positions[i]] == edge.parent) by[i][j] = 1 - (1 - by[i][j]) * (1 - edge.chance);
            }
        }
        out += std::log(chance_of_circle(own, by) + 1e-12);
    }
    return out;
}

void IslandSearch::score(State& state) const {
    std::vector<int> touched; // positions whose chances a parent changes
    for (std::size_t i = 0; i < state.mode.size(); ++i) {
        if (state.mode[i] == 0 || m_enumerated[i] == 0) continue;
        for (int e : m_net.out_of[static_cast<std::size_t>(m_island.units[i])]) {
            const auto& edge = m_net.edges[static_cast<std::size_t>(e)];
            const int child = m_position[static_cast<std::size_t>(edge.child)];
            if (child >= 0 && edge.parent_mode == state.mode[i] && std::find(touched.begin(), touched.end(), child) == touched.end())
                touched.push_back(child);
        }
    }
    const int subsets = m_complaints.subsets();
    state.score = kNone;
    std::vector<double> by_mode;
    for (int a = 0; a < kAges; ++a) {
        const double given = state.evidence + circles(state, a);
        double all = given + m_leaves[a][0];
        double silent[kSubsets];
        for (int s = 1; s < subsets; ++s) silent[s] = given + m_leaves[a][s];
        const auto add = [&](double ln, int u, int m) {
            all += ln;
            for (int s = 1; s < subsets; ++s) silent[s] += ln + (m > 0 ? std::log(std::max(1e-300, m_complaints.silent(u, m, s))) : 0);
        };
        for (std::size_t i = 0; i < state.mode.size(); ++i) {
            if (m_enumerated[i] == 0) continue;
            const int u = m_island.units[i];
            const int m = state.mode[i];
            double ln = m_direct.ln[static_cast<std::size_t>(u)][static_cast<std::size_t>(m)];
            if (std::find(touched.begin(), touched.end(), static_cast<int>(i)) == touched.end())
                ln += m_ln_chance[a][i][static_cast<std::size_t>(m)];
            else {
                chances(
                    i, a, [&](int parent) { return mode_of(&state, parent); }, by_mode);
                ln += std::log(by_mode[static_cast<std::size_t>(m)] + 1e-300);
            }
            add(ln, u, m);
        }
        for (int child : touched) {
            const auto i = static_cast<std::size_t>(child);
            if (m_enumerated[i] != 0) continue;
            const Leaf with = leaf_sums(i, &state, a);
            all += with.ln_all - m_leaf[a][i].ln_all;
            for (int s = 1; s < subsets; ++s) silent[s] += with.ln_silent[s] - m_leaf[a][i].ln_silent[s];
        }
        state.ln_all[a] = all;
        double told = std::log(m_ages.chance[static_cast<std::size_t>(a)]) + all;
        for (int s = 1; s < subsets; ++s) {
            state.ln_silent[a][s] = silent[s];
            if ((s & (s - 1)) == 0) told += std::log(std::max(1e-6, 1 - (1 - m_complaints.leak_of(s)) * std::exp(silent[s] - all)));
        }
        state.score = ln_sum(state.score, told);
    }
}

// Without readings in circuit a state costs next to nothing: on a small island every one is there, and the sums are exact.
bool IslandSearch::add_all() {
    if (!m_seen.empty()) return false;
    std::size_t count = 1;
    for (std::size_t i = 0; i < m_island.units.size(); ++i) {
        if (m_enumerated[i] != 0) count *= unit(i).modes.size();
        if (count > kExact) return false;
    }
    for (std::size_t k = 0; k < count; ++k) {
        auto state = std::make_unique<State>();
        state->mode = m_best_alone;
        state->solved = true;
        std::size_t left = k;
        for (std::size_t i = 0; i < state->mode.size(); ++i) {
            if (m_enumerated[i] == 0) continue;
            state->mode[i] = static_cast<std::uint8_t>(left % unit(i).modes.size());
            left /= unit(i).modes.size();
        }
        for (const auto& u : prior_of(state->mode)) state->values.push_back(u.middle);
        add(std::move(state));
    }
    return true;
}

} // namespace ohmo::belief
