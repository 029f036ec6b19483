// SPDX-License-Identifier: GPL-3.0-or-later
// What follows from a state: every other mode of every part, screened against the readings before any is solved.
#include "belief/screen.h"
#include "belief/search.h"

#include <algorithm>
#include <cmath>
#include <compare>
#include <functional>

namespace ohmo::belief {
namespace {

constexpr double kSlight = 0.2; // touches: a deviation leaves the reading where it was
constexpr double kAgainst = 3;  // nats by which readings speak against a short

} // namespace

// Whether a deviation of this part moves no reading that any deviation of `base` from the best state moves.
bool IslandSearch::apart(const State& base, std::size_t position) const {
    for (std::size_t i = 0; i < base.mode.size(); ++i)
        if (i != position && base.mode[i] != m_best_alone[i] && move_one(i, position)) return false;
    return true;
}

// What it brought to a state that differs from this one elsewhere only: by a part that moves no reading that these move.
const double* IslandSearch::screened_beside(const State& base, const Screened& what) {
    for (std::size_t i = 0; i < base.mode.size(); ++i) {
        if (base.mode[i] == m_best_alone[i] || i == what.position || i == what.child) continue;
        if (move_one(i, what.position) || (what.child != kNobody && move_one(i, what.child))) continue;
        auto without = base.mode;
        without[i] = m_best_alone[i];
        const State* there = find(without);
        if (there == nullptr) continue;
        if (const auto known = there->screened.find(what); known != there->screened.end()) return &known->second;
    }
    return nullptr;
}

// Readings given up in this fit that would be near what was shown.
int IslandSearch::slips_mended(Screen& screen, const Fit& around, const std::vector<Override>& to, bool solved) const {
    int out = 0;
    for (std::size_t j = 0; j < m_seen.size(); ++j) {
        if (around.slipped[j] == 0) continue;
        const double gap = around.residual[j] * m_seen[j].touch.noise;
        const double moved = solved ? screen.moved_solved(j, to, 0) : screen.moved(j, to, 0);
        if (std::fabs(gap - moved) < kMended * std::fabs(gap)) ++out;
    }
    return out;
}

std::vector<char> IslandSearch::moved_by(Screen& screen, const std::vector<Override>& to) const {
    std::vector<char> out(m_seen.size(), 1);
    for (std::size_t j = 0; j < m_seen.size(); ++j) {
        const double slight = kSlight * m_seen[j].touch.noise;
        const auto moves = [&](double z) { return std::fabs(screen.moved(j, to, z)) > slight; };
        if (!moves(0) && !moves(-kTowards) && !moves(kTowards)) out[j] = 0;
    }
    return out;
}

// A fault that readings rule out may not be with what it brings down, such as a short behind what it burnt open: both at once, since either
// alone leads uphill.
void IslandSearch::add_hidden(State& base, std::size_t position, int mode, const std::function<Screen&()>& screen_now, double room,
                              double best) {
    if (m_seen.empty()) return;
    for (int e : m_net.out_of[static_cast<std::size_t>(m_island.units[position])]) {
        const Edge& edge = m_net.edges[static_cast<std::size_t>(e)];
        const int child = m_position[static_cast<std::size_t>(edge.child)];
        if (edge.parent_mode != mode || edge.chance < kHides || child < 0 || m_enumerated[static_cast<std::size_t>(child)] == 0) continue;
        const auto at = static_cast<std::size_t>(child);
        if (base.mode[at] == edge.child_mode) continue;
        State trial;
        trial.mode = base.mode;
        trial.mode[position] = static_cast<std::uint8_t>(mode);
        trial.mode[at] = static_cast<std::uint8_t>(edge.child_mode);
        if (find(trial.mode) != nullptr) continue;
        trial.evidence = base.evidence;
        m_odds.score(trial);
        if (trial.score + room < best - m_limits.depth - 1) continue;
        const Screened this_one{position, mode, at, edge.child_mode};
        if (const double* known = screened_beside(base, this_one);
            known != nullptr && hopeless(*known, trial.score + std::min(*known, room), best)) {
            base.screened[this_one] = *known;
            continue;
        }
        Screen& screen = screen_now();
        auto to = change(position, base.mode[position], mode);
        for (const auto& o : change(at, base.mode[at], edge.child_mode)) to.push_back(o);
        const double gain = screen.gain(to), estimate = trial.score + std::min(gain, room);
        base.screened[this_one] = gain;
        if (hopeless(gain, estimate, best)) continue;
        wait_for(base, estimate, std::move(trial.mode), screen, to);
    }
}

// Whether the fit of this state makes of a part's fault what it hardly is, such as a short of kilohms.
bool IslandSearch::bent(const State& state, std::size_t position) const {
    for (const auto& o : change(position, 0, state.mode[position]))
        if (std::fabs(state.values[static_cast<std::size_t>(o.unknown)] - o.middle) > kStrained * o.spread) return true;
    return false;
}

void IslandSearch::wait_for(const State& base, double estimate, std::vector<std::uint8_t> mode, Screen& screen,
                            const std::vector<Override>& to) {
    m_waiting.push_back({estimate, &base, std::move(mode), m_around, moved_by(screen, to), screen.let_go(to)});
    std::push_heap(m_waiting.begin(), m_waiting.end());
}

void IslandSearch::expand(State& base) {
    base.expanded = true;
    ++m_expanded;
    // What changes nothing electrical takes its evidence over.
    if (!m_seen.empty() && base.solved && hold_to_all(base) && base.score < best_score() - depth_now()) return;
    if (!m_seen.empty()) move_among_twins(base);
    const double best = best_score();
    const State& first = *m_states.front();
    const bool is_first = &base == &first;
    m_around.reset();
    std::optional<Screen> screen;
    std::vector<Unknown> prior;
    const auto screen_now = [&]() -> Screen& {
        if (!screen) {
            m_around = base.fit ? base.fit : std::make_shared<const Fit>(fit_of(base, base.solved ? 0 : 2));
            prior = prior_of(base.mode);
            screen.emplace(m_island.circuit, m_where, m_bench, prior, m_seen, *m_around);
        }
        return *screen;
    };
    struct Rescue {
        int mended;
        double score;
        std::vector<std::uint8_t> mode;
        auto operator<=>(const Rescue&) const = default;
    };
    std::vector<Rescue> rescues;
    std::map<std::vector<std::uint8_t>, double> gains; // twins are screened once
    const double room = m_seen.empty() ? 0 : std::max(0.0, m_most_evidence - base.evidence);
    for (std::size_t i = 0; i < base.mode.size(); ++i) {
        if (m_enumerated[i] == 0) continue;
        for (int m = 0; m < static_cast<int>(unit(i).modes.size()); ++m) {
            if (m == base.mode[i]) continue;
            auto mode = base.mode;
            mode[i] = static_cast<std::uint8_t>(m);
            if (const State* known = find(mode)) {
                if (known->evidence < base.evidence - kAgainst || bent(*known, i)) add_hidden(base, i, m, screen_now, room, best);
                continue;
            }
            State trial;
            trial.mode = mode;
            trial.evidence = base.evidence;
            m_odds.score(trial);
            const bool electrical = !m_seen.empty() && std::find(m_moves[i].begin(), m_moves[i].end(), 1) != m_moves[i].end() &&
                                    !change(i, base.mode[i], m).empty();
            if (trial.score + (electrical ? room : 0) < best - m_limits.depth - 1) continue;
            if (!electrical) { // nothing that was read tells: only the chances change
                auto state = std::make_unique<State>(std::move(trial));
                state->values = start_from(base, mode);
                state->solved = base.solved;
                add(std::move(state));
                continue;
            }
            if (const State* known = alike(mode)) {
                trial.evidence = known->evidence;
                m_odds.score(trial);
                if (trial.score > best - m_limits.slack) solve(&base, std::move(mode), {});
                continue;
            }
            if (!is_first && apart(base, i)) {
                auto single = m_best_alone;
                single[i] = base.mode[i];
                const State* was = find(single);
                single[i] = static_cast<std::uint8_t>(m);
                const State* becomes = find(single);
                if (was != nullptr && becomes != nullptr) {
                    trial.evidence += becomes->evidence - was->evidence;
                    m_odds.score(trial);
                    if (trial.score < best - m_limits.depth) {
                        add_hidden(base, i, m, screen_now, room, best);
                        continue;
                    }
                    auto state = std::make_unique<State>(std::move(trial));
                    state->values = start_from(base, mode);
                    for (std::size_t k = 0; k < state->values.size(); ++k)
                        state->values[k] = m_island.owner[k] == m_island.units[i] ? becomes->values[k]
                                                                                  : state->values[k] + becomes->values[k] - was->values[k];
                    state->solved = false;
                    add(std::move(state));
                    continue;
                }
            }
            const Screened this_one{i, m};
            if (const double* known = screened_beside(base, this_one);
                known != nullptr && hopeless(*known, trial.score + std::min(*known, room), best)) {
                base.screened[this_one] = *known;
                add_hidden(base, i, m, screen_now, room, best);
                continue;
            }
            screen_now();
            double estimate = trial.score;
            const auto to = change(i, base.mode[i], m);
            const auto [told, fresh] = gains.try_emplace(m_twins.in_order(mode), 0.0);
            if (fresh) told->second = screen->gain(to);
            const double gain = told->second;
            base.screened[this_one] = gain;
            estimate += std::min(gain, room);
            if (hopeless(gain, estimate, best)) {
                if (const int mended = slips_mended(*screen, *m_around, to, false); mended > 0)
                    rescues.push_back({mended, trial.score, std::move(mode)});
                add_hidden(base, i, m, screen_now, room, best);
                continue;
            }
            if (gain < -kAgainst) add_hidden(base, i, m, screen_now, room, best);
            wait_for(base, estimate, std::move(mode), *screen, to);
        }
    }
    // Where readings were given up, their reason may be one that spoils what the others had been bent to: tried with nothing learned yet.
    std::sort(rescues.begin(), rescues.end(), std::greater<>());
    rescues.resize(std::min(rescues.size(), kRescues));
    for (auto& r : rescues) {
        if (m_fits >= m_limits.most_fits) return;
        if (find(r.mode) == nullptr) solve(nullptr, std::move(r.mode), {});
    }
}

} // namespace ohmo::belief
