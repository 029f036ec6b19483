// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/odds.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr double kLeastChance = 1e-300;
constexpr double kLeastOfCircle = 1e-12, kLeastTold = 1e-6;

} // namespace

double ln_sum(double a, double b) {
    if (a < b) std::swap(a, b);
    return b <= kNone / 2 ? a : a + std::log1p(std::exp(b - a));
}

Odds::Odds(const Model& model, const Island& island, const Net& net, const Ages& ages, const DirectEvidence& direct,
           const Complaints& complaints, const std::vector<char>& enumerated)
    : m_model(model), m_island(island), m_net(net), m_ages(ages), m_direct(direct), m_complaints(complaints), m_enumerated(enumerated),
      m_position(model.units.size(), -1), m_brings(island.units.size()), m_ln_silent(island.units.size()) {
    for (std::size_t i = 0; i < island.units.size(); ++i) m_position[static_cast<std::size_t>(island.units[i])] = static_cast<int>(i);
    for (std::size_t i = 0; i < island.units.size(); ++i) {
        const int u = island.units[i];
        m_brings[i].resize(unit(i).modes.size());
        for (int e : net.out_of[static_cast<std::size_t>(u)]) {
            const auto& edge = net.edges[static_cast<std::size_t>(e)];
            const int child = m_position[static_cast<std::size_t>(edge.child)];
            const int circle = net.circle[static_cast<std::size_t>(u)];
            const bool in_circle = circle >= 0 && circle == net.circle[static_cast<std::size_t>(edge.child)];
            if (child >= 0) m_brings[i][static_cast<std::size_t>(edge.parent_mode)].push_back({child, e, in_circle});
        }
        m_ln_silent[i].assign(unit(i).modes.size(), {});
        for (std::size_t m = 1; m < unit(i).modes.size(); ++m)
            for (int s = 1; s < complaints.subsets(); ++s)
                m_ln_silent[i][m][static_cast<std::size_t>(s)] =
                    std::log(std::max(kLeastChance, complaints.silent(u, static_cast<int>(m), s)));
    }
}

int Odds::mode_of(const State* state, int unit) const {
    const int at = m_position[static_cast<std::size_t>(unit)];
    return state == nullptr || at < 0 || m_enumerated[static_cast<std::size_t>(at)] == 0 ? 0 : state->mode[static_cast<std::size_t>(at)];
}

template <class ModeOf>
void Odds::chances(std::size_t position, int age, const ModeOf& mode_of, std::vector<double>& out) const {
    const int u = m_island.units[position];
    mode_chances(unit(position), m_net.edges, m_net.into[static_cast<std::size_t>(u)], m_ages.factor[static_cast<std::size_t>(age)],
                 mode_of, out);
    const auto brought = m_brought.find(u);
    if (brought == m_brought.end()) return;
    double any = 0;
    for (double p : brought->second) any += p;
    for (std::size_t m = 0; m < out.size(); ++m) out[m] = out[m] * (1 - any) + brought->second[m];
}

void Odds::leaf(std::size_t position, const State* state, int age, std::vector<double>& out) const {
    const int u = m_island.units[position];
    chances(
        position, age, [&](int parent) { return mode_of(state, parent); }, out);
    const auto& ln = m_direct.ln[static_cast<std::size_t>(u)];
    for (std::size_t m = 0; m < out.size(); ++m) out[m] *= std::exp(ln[m]);
}

Odds::Sums Odds::leaf_sums(std::size_t position, const State* state) const {
    std::vector<double> by_mode;
    Sums out;
    for (int a = 0; a < kAges; ++a) {
        leaf(position, state, a, by_mode);
        double all = 0;
        for (double c : by_mode) all += c;
        out.ln_all[a] = std::log(all + kLeastChance);
        for (int s = 1; s < m_complaints.subsets(); ++s) {
            double silent = 0;
            for (std::size_t m = 0; m < by_mode.size(); ++m)
                silent += by_mode[m] * m_complaints.silent(m_island.units[position], static_cast<int>(m), s);
            out.ln_silent[a][s] = std::log(silent + kLeastChance);
        }
    }
    return out;
}

double Odds::ln_everything(int age) const {
    double out = 0;
    for (std::size_t i = 0; i < m_island.units.size(); ++i) out += leaf_sums(i, nullptr).ln_all[age];
    return out;
}

Odds::Beside Odds::made_beside(std::size_t position, const State* state) const {
    Beside out;
    if (m_enumerated[position] == 0) {
        out.leaf = leaf_sums(position, state);
        return out;
    }
    const auto& direct = m_direct.ln[static_cast<std::size_t>(m_island.units[position])];
    for (int a = 0; a < kAges; ++a) {
        auto& ln = out.ln[static_cast<std::size_t>(a)];
        chances(
            position, a, [&](int parent) { return mode_of(state, parent); }, ln);
        for (std::size_t m = 0; m < ln.size(); ++m) ln[m] = std::log(ln[m] + kLeastChance) + direct[m];
    }
    return out;
}

const Odds::Beside& Odds::beside(std::size_t position, const State& state, Causes causes) const {
    if (causes.empty()) return m_by_itself[position];
    auto& known = m_beside[position];
    const auto at = known.find(causes);
    if (at != known.end()) return at->second;
    return known.emplace(Brought(causes.begin(), causes.end()), made_beside(position, &state)).first->second;
}

void Odds::add(Sums& to, std::size_t position, int mode, const Beside& there, double sign) const {
    const int subsets = m_complaints.subsets();
    const bool leaf = m_enumerated[position] == 0;
    const auto& ln_silent = m_ln_silent[position][static_cast<std::size_t>(mode)];
    for (int a = 0; a < kAges; ++a) {
        const double ln = leaf ? there.leaf.ln_all[a] : there.ln[static_cast<std::size_t>(a)][static_cast<std::size_t>(mode)];
        to.ln_all[a] += sign * ln;
        for (int s = 1; s < subsets; ++s)
            to.ln_silent[a][s] += sign * (leaf ? there.leaf.ln_silent[a][s] : ln + ln_silent[static_cast<std::size_t>(s)]);
    }
}

void Odds::settle(const std::vector<std::uint8_t>& best) {
    m_best = best;
    m_by_itself.clear();
    m_beside.assign(m_island.units.size(), {});
    m_circle.clear();
    m_base = {};
    for (std::size_t i = 0; i < m_island.units.size(); ++i) {
        m_by_itself.push_back(made_beside(i, nullptr));
        add(m_base, i, best[i], m_by_itself[i], 1);
    }
}

Odds::Brought Odds::brought_down(const State& state) const {
    Brought out;
    for (std::size_t i = 0; i < state.mode.size(); ++i)
        if (state.mode[i] != 0 && m_enumerated[i] != 0) {
            const auto& mine = m_brings[i][state.mode[i]];
            out.insert(out.end(), mine.begin(), mine.end());
        }
    std::sort(out.begin(), out.end());
    return out;
}

void Odds::score(State& state) const {
    const Brought down = brought_down(state);
    Sums sums = m_base;
    std::vector<Standing> standing;
    for (std::size_t i = 0, d = 0; i < state.mode.size(); ++i) {
        const std::size_t first = d;
        while (d < down.size() && down[d].child == static_cast<int>(i)) ++d;
        const Causes causes(down.data() + first, d - first);
        if (const int c = m_net.circle[static_cast<std::size_t>(m_island.units[i])]; c >= 0 && state.mode[i] != 0 && m_enumerated[i] != 0)
            standing.push_back({c, i, causes});
        if (causes.empty() && (m_enumerated[i] == 0 || state.mode[i] == m_best[i])) continue;
        add(sums, i, state.mode[i], beside(i, state, causes), 1);
        add(sums, i, m_best[i], m_by_itself[i], -1);
    }
    std::array<double, kAges> given{};
    given.fill(state.evidence);
    std::stable_sort(standing.begin(), standing.end(), [](const Standing& a, const Standing& b) { return a.circle < b.circle; });
    for (auto first = standing.begin(); first != standing.end();) {
        const auto last = std::find_if(first, standing.end(), [&](const Standing& s) { return s.circle != first->circle; });
        if (bring_each_other({first, last})) {
            const auto& back = circle(state, {first, last});
            for (std::size_t a = 0; a < given.size(); ++a) given[a] += back[a];
        }
        first = last;
    }
    const int subsets = m_complaints.subsets();
    state.score = kNone;
    for (int a = 0; a < kAges; ++a) {
        const double all = state.ln_all[a] = sums.ln_all[a] + given[static_cast<std::size_t>(a)];
        double told = std::log(m_ages.chance[static_cast<std::size_t>(a)]) + all;
        for (int s = 1; s < subsets; ++s) {
            const double silent = state.ln_silent[a][s] = sums.ln_silent[a][s] + given[static_cast<std::size_t>(a)];
            if ((s & (s - 1)) == 0) told += std::log(std::max(kLeastTold, 1 - (1 - m_complaints.leak_of(s)) * std::exp(silent - all)));
        }
        state.score = ln_sum(state.score, told);
    }
}

// Where nobody's causes lead back to it, each has its own: what remains once all without a cause among those left are taken away.
bool Odds::bring_each_other(const Circle& standing) const {
    std::vector<char> left(standing.size(), 1);
    const auto caused = [&](std::size_t j) {
        return std::any_of(standing[j].causes.begin(), standing[j].causes.end(), [&](const Brings& b) {
            const int parent = m_net.edges[static_cast<std::size_t>(b.edge)].parent;
            for (std::size_t i = 0; i < standing.size() && b.in_circle; ++i)
                if (left[i] != 0 && m_island.units[standing[i].position] == parent) return true;
            return false;
        });
    };
    for (std::size_t taken = 1; taken > 0;) {
        taken = 0;
        for (std::size_t j = 0; j < standing.size(); ++j)
            if (left[j] != 0 && !caused(j)) {
                left[j] = 0;
                ++taken;
            }
    }
    return std::find(left.begin(), left.end(), 1) != left.end();
}

const std::array<double, kAges>& Odds::circle(const State& state, const Circle& standing) const {
    std::vector<int> key;
    for (const auto& s : standing) {
        key.push_back(static_cast<int>(s.position));
        key.push_back(state.mode[s.position]);
        for (const auto& c : s.causes) key.push_back(c.edge);
        key.push_back(-1);
    }
    const auto [at, fresh] = m_circle.try_emplace(std::move(key));
    if (fresh)
        for (int a = 0; a < kAges; ++a) at->second[static_cast<std::size_t>(a)] = circle_at(state, standing, a);
    return at->second;
}

// What the parts of a circle that stand have to give back: one by one, each would count the others as its cause. Each in the mode in which
// it stands: two capacitors that short each other do not do so because one of them is dry.
double Odds::circle_at(const State& state, const Circle& standing, int age) const {
    const std::size_t n = standing.size();
    std::vector<double> own, at;
    std::vector<std::vector<double>> by(n, std::vector<double>(n, 0));
    double out = 0;
    for (std::size_t j = 0; j < n; ++j) {
        const auto& mine = standing[j];
        const auto mode = state.mode[mine.position];
        const auto in_its_mode = [&](bool with_equals) {
            const auto counted = [&](int parent) {
                return with_equals || m_net.circle[static_cast<std::size_t>(parent)] != mine.circle ? mode_of(&state, parent) : 0;
            };
            chances(mine.position, age, counted, at);
            return at[mode];
        };
        out -= std::log(in_its_mode(true) + kLeastOfCircle);
        own.push_back(in_its_mode(false));
        for (const auto& c : mine.causes) {
            const auto& edge = m_net.edges[static_cast<std::size_t>(c.edge)];
            if (edge.child_mode != mode) continue;
            for (std::size_t i = 0; i < n; ++i)
                if (m_island.units[standing[i].position] == edge.parent) by[i][j] = 1 - (1 - by[i][j]) * (1 - edge.chance);
        }
    }
    return out + std::log(chance_of_circle(own, by) + kLeastOfCircle);
}

} // namespace ohmo::belief
