// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/search.h"

#include <algorithm>
#include <cmath>
#include <compare>
#include <functional>

namespace ohmo::belief {
namespace {

constexpr double kSlipWeighs = 8; // nats that a reading in agreement has over a slip, about
constexpr int kFirstRounds = 10, kNextRounds = 6;
constexpr int kMoreFits = 150;    // for that, beyond the others
constexpr double kHeadroom = 0.3; // nats a reading that a state may agree better than its bell's middle says
constexpr double kMisjudged = 2;  // nats between a fit that saved work and a whole one

} // namespace

std::vector<double> middles(const std::vector<Unknown>& prior) {
    std::vector<double> out;
    for (const auto& u : prior) out.push_back(u.middle);
    return out;
}

IslandSearch::IslandSearch(const Model& model, int island, const Net& net, const Ages& ages, const DirectEvidence& direct,
                           const Complaints& complaints, const Bench& bench, std::vector<Sight> seen, const SearchLimits& limits)
    : m_model(model), m_number(island), m_island(model.islands[static_cast<std::size_t>(island)]), m_net(net), m_direct(direct),
      m_bench(bench), m_seen(std::move(seen)), m_limits(limits), m_where(Whereabouts::of(m_island.circuit, m_island.prior.size())),
      m_position(model.units.size(), -1), m_enumerated(m_island.units.size(), 0),
      m_odds(model, m_island, net, ages, direct, complaints, m_enumerated),
      m_moves(m_island.units.size(), std::vector<char>(m_seen.size(), 0)) {
    if (!m_seen.empty()) m_twins = Twins(model, m_island, bench, direct);
    for (std::size_t i = 0; i < m_island.units.size(); ++i) m_position[static_cast<std::size_t>(m_island.units[i])] = static_cast<int>(i);
    for (const auto& s : m_seen)
        m_most_evidence += (m_options.tails ? ln_student(0, s.touch.noise) : ln_bell(0, s.touch.noise)) + kHeadroom;
}

const State& IslandSearch::likeliest() const {
    return **std::max_element(m_states.begin(), m_states.end(), [](const auto& a, const auto& b) { return a->p < b->p; });
}

bool IslandSearch::moved(int unit) const {
    const int at = position(unit);
    return at >= 0 && std::find(m_moves[static_cast<std::size_t>(at)].begin(), m_moves[static_cast<std::size_t>(at)].end(), 1) !=
                          m_moves[static_cast<std::size_t>(at)].end();
}

std::vector<Unknown> IslandSearch::prior_of(const std::vector<std::uint8_t>& mode) const {
    auto out = m_island.prior;
    const auto put = [&](const Override& o) { out[static_cast<std::size_t>(o.unknown)] = {o.middle, o.spread}; };
    for (std::size_t i = 0; i < mode.size(); ++i) {
        for (const auto& o : unit(i).modes[mode[i]].values) put(o);
        const auto& refined = m_direct.refined[static_cast<std::size_t>(m_island.units[i])];
        if (!refined.empty())
            for (const auto& o : refined[mode[i]]) put(o);
    }
    for (int k : m_absent) put({k, kLnNoJunction, m_island.prior[static_cast<std::size_t>(k)].spread});
    return out;
}

Fit IslandSearch::fit_of(const State& state, int rounds, const Near& near) const {
    FitOptions options = m_options;
    options.rounds = rounds;
    return fit(m_island.circuit, m_bench, prior_of(state.mode), state.values, m_seen, options, near);
}

Fit IslandSearch::fit_without(const State& state, std::size_t position) const {
    State sound;
    sound.mode = state.mode;
    sound.mode[position] = 0;
    sound.values = start_from(state, sound.mode);
    return fit_of(sound, kNextRounds);
}

// The unknowns that a change of mode gives other middles, by the mode itself or by what was read of the part alone: also those that only
// the mode before had bent.
std::vector<Override> IslandSearch::change(std::size_t position, int from, int to) const {
    const auto& refined = m_direct.refined[static_cast<std::size_t>(m_island.units[position])];
    const auto given = [&](int mode, int unknown) {
        const auto& healthy = m_island.prior[static_cast<std::size_t>(unknown)];
        Override out{unknown, healthy.middle, healthy.spread};
        for (const auto& o : unit(position).modes[static_cast<std::size_t>(mode)].values)
            if (o.unknown == unknown) out = o;
        if (!refined.empty())
            for (const auto& o : refined[static_cast<std::size_t>(mode)])
                if (o.unknown == unknown) out = o;
        return out;
    };
    std::vector<Override> out;
    const auto take = [&](const std::vector<Override>& some) {
        for (const auto& o : some) {
            if (std::any_of(out.begin(), out.end(), [&](const Override& v) { return v.unknown == o.unknown; })) continue;
            const Override was = given(from, o.unknown), becomes = given(to, o.unknown);
            if (was.middle != becomes.middle || was.spread != becomes.spread) out.push_back(becomes);
        }
    };
    for (int mode : {to, from}) {
        take(unit(position).modes[static_cast<std::size_t>(mode)].values);
        if (!refined.empty()) take(refined[static_cast<std::size_t>(mode)]);
    }
    return out;
}

// Which readings a unit's other modes would move; whoever moves one is enumerated.
void IslandSearch::settle_moves(const Fit& at, const std::vector<std::uint8_t>& mode, const std::vector<char>* only) {
    const auto prior = prior_of(mode);
    Screen screen(m_island.circuit, m_where, m_bench, prior, m_seen, at);
    for (std::size_t i = 0; i < m_island.units.size(); ++i) {
        if (only != nullptr && (*only)[i] == 0) continue;
        const auto& modes = unit(i).modes;
        for (std::size_t m = 0; m < modes.size(); ++m) {
            if (m == mode[i]) continue;
            const auto to = change(i, mode[i], static_cast<int>(m));
            if (to.empty()) continue;
            for (std::size_t j = 0; j < m_seen.size(); ++j) {
                if (m_moves[i][j] != 0) continue;
                const double threshold = kMoves * m_seen[j].touch.noise;
                if (std::fabs(screen.moved_together(j, to, 0)) > threshold ||
                    std::fabs(screen.moved_together(j, to, -kTowards)) > threshold)
                    m_moves[i][j] = 1;
            }
        }
        if (std::find(m_moves[i].begin(), m_moves[i].end(), 1) != m_moves[i].end()) m_enumerated[i] = 1;
    }
}

// At what was learned, and at the prior's middle: a chip pin that has soaked up a reading must not hide who else may have moved it.
void IslandSearch::add_influenced(const Fit& at, const std::vector<std::uint8_t>& mode) {
    settle_moves(at, mode);
    const auto prior = prior_of(mode);
    FitOptions none = m_options;
    none.rounds = 0;
    settle_moves(fit(m_island.circuit, m_bench, prior, middles(prior), m_seen, none), mode);
}

std::vector<IslandSearch::Opener> IslandSearch::openers() const {
    std::vector<Opener> out;
    for (std::size_t i = 0; i < m_island.units.size(); ++i)
        for (int m = 1; m < static_cast<int>(unit(i).modes.size()); ++m) {
            if (m == m_best_alone[i]) continue;
            Opener opener{i, m, std::vector<char>(m_island.units.size(), 0)};
            bool any = false;
            for (int e : m_net.out_of[static_cast<std::size_t>(m_island.units[i])]) {
                const auto& edge = m_net.edges[static_cast<std::size_t>(e)];
                const int child = m_position[static_cast<std::size_t>(edge.child)];
                if (edge.parent_mode != m || child < 0) continue;
                opener.children[static_cast<std::size_t>(child)] = 1;
                any = true;
            }
            if (any) out.push_back(std::move(opener));
        }
    return out;
}

// An open sense resistor moves nothing while the switch blocks, and everything once it is shorted: children are tried beside their parent.
void IslandSearch::add_brought_down() {
    for (const auto& o : openers()) {
        auto unsettled = o.children;
        bool any = false;
        for (std::size_t i = 0; i < unsettled.size(); ++i) {
            if (m_enumerated[i] != 0) unsettled[i] = 0;
            any |= unsettled[i] != 0;
        }
        if (!any) continue;
        State there;
        there.mode = m_best_alone;
        there.mode[o.position] = static_cast<std::uint8_t>(o.mode);
        there.values = middles(prior_of(there.mode));
        settle_moves(fit_of(there, 1), there.mode, &unsettled);
    }
}

std::vector<double> IslandSearch::start_from(const State& from, const std::vector<std::uint8_t>& mode) const {
    auto out = from.values;
    for (std::size_t i = 0; i < mode.size(); ++i)
        if (mode[i] != from.mode[i])
            for (const auto& o : change(i, from.mode[i], mode[i])) out[static_cast<std::size_t>(o.unknown)] = o.middle;
    return out;
}

State* IslandSearch::find(const std::vector<std::uint8_t>& mode) {
    const auto at = m_known.find(mode);
    return at == m_known.end() ? nullptr : at->second;
}

const State* IslandSearch::alike(const std::vector<std::uint8_t>& mode) const {
    if (m_twins.none()) return nullptr;
    const auto at = m_alike.find(m_twins.in_order(mode));
    return at == m_alike.end() ? nullptr : at->second;
}

State* IslandSearch::add(std::unique_ptr<State> state) {
    m_odds.score(*state);
    m_known.emplace(state->mode, state.get());
    m_states.push_back(std::move(state));
    State& added = *m_states.back();
    if (added.solved && !m_seen.empty()) share_fit(added);
    return &added;
}

std::vector<std::uint8_t> IslandSearch::told_by_readings(std::vector<std::uint8_t> mode) const {
    for (std::size_t i = 0; i < mode.size(); ++i)
        if (mode[i] != m_best_alone[i] && change(i, m_best_alone[i], mode[i]).empty()) mode[i] = m_best_alone[i];
    return mode;
}

// A chip that is dead and says nothing must not be what a better fit was found beside: the same circuit has the same fit, the best found.
void IslandSearch::share_fit(State& state) {
    auto& same = m_same_circuit[told_by_readings(state.mode)];
    if (std::find(same.begin(), same.end(), &state) == same.end()) same.push_back(&state);
    const auto by_evidence = [](const State* a, const State* b) { return a->evidence < b->evidence; };
    const auto best_fit = [&] { return *std::max_element(same.begin(), same.end(), by_evidence); };
    State* best = best_fit();
    const State* worst = *std::min_element(same.begin(), same.end(), by_evidence);
    // Each at most once: what is fitted anew may come to rest where another look is as far off again.
    for (std::size_t k = 0; k < same.size() && best->evidence - worst->evidence > kMisjudged && hold_to_all(*best); ++k) best = best_fit();
    for (State* other : same) {
        const double gain = best->evidence - other->evidence;
        if (gain < kSameFit) continue;
        other->evidence = best->evidence;
        other->values = best->values;
        other->fit = best->fit;
        other->expanded = other->expanded && gain < kBetterFit;
        m_odds.score(*other);
    }
}

// What looks like slips, or strains what is known of the unknowns, may only lie on the other side of a hill: tried again from there, where
// that could still matter.
void IslandSearch::keep(State& state, Fit done) {
    ++m_fits;
    const auto prior = prior_of(state.mode);
    const auto slips = std::count(done.slipped.begin(), done.slipped.end(), 1);
    bool strained = false;
    for (std::size_t k = 0; k < prior.size() && !strained; ++k)
        strained = std::fabs(done.values[k] - prior[k].middle) > kStrained * prior[k].spread;
    const auto take = [&](Fit other) {
        if (other.evidence > done.evidence) done = std::move(other);
    };
    state.evidence = done.evidence;
    m_odds.score(state);
    const double best = best_score();
    const double could_gain = kSlipWeighs * static_cast<double>(slips + (strained ? 1 : 0));
    if (could_gain > 0 && state.score > best - m_limits.depth - could_gain) {
        if (slips > 0) {
            FitOptions through = m_options;
            through.rounds = kNextRounds;
            through.through = true;
            take(fit(m_island.circuit, m_bench, prior, state.values, m_seen, through, {&done, std::vector<char>(m_seen.size(), 0)}));
        }
        FitOptions afresh = m_options;
        afresh.rounds = kFirstRounds;
        if (strained) take(fit(m_island.circuit, m_bench, prior, middles(prior), m_seen, afresh));
    }
    state.evidence = done.evidence;
    state.values = done.values;
    state.solved = true;
    state.fit = std::make_shared<const Fit>(std::move(done));
    if (!m_twins.none()) m_alike.emplace(m_twins.in_order(state.mode), &state);
}

State* IslandSearch::solve(const State* from, std::vector<std::uint8_t> mode, const Near& near, const std::vector<Override>& let_go) {
    auto state = std::make_unique<State>();
    state->mode = std::move(mode);
    if (const State* known = alike(state->mode)) {
        state->evidence = known->evidence;
        state->values = m_twins.exchanged(known->values, known->mode, state->mode);
        return add(std::move(state));
    }
    state->values = from == nullptr ? middles(prior_of(state->mode)) : start_from(*from, state->mode);
    for (const auto& o : let_go) state->values[static_cast<std::size_t>(o.unknown)] = o.middle;
    if (!m_seen.empty()) {
        keep(*state, fit_of(*state, from == nullptr ? kFirstRounds : kNextRounds, near));
        if (near.fit != nullptr && state->score > best_score() - kWeighsIn) hold_to_all(*state);
    }
    return add(std::move(state));
}

// What was taken not to move may have: all of it is looked at, before others of the same circuit take it over. Whether it was misjudged.
bool IslandSearch::hold_to_all(State& state) {
    if (std::fabs(fit_of(state, 0).evidence - state.evidence) <= kMisjudged) return false;
    keep(state, fit_of(state, kNextRounds));
    return true;
}

// The likeliest of what waits, whatever state it was found from.
void IslandSearch::solve_waiting() {
    std::pop_heap(m_waiting.begin(), m_waiting.end());
    const Waiting now = std::move(m_waiting.back());
    m_waiting.pop_back();
    if (find(now.mode) != nullptr) return;
    State from; // the state it was found from as it was then: what did not move is taken from that very fit
    from.mode = now.base->mode;
    from.values = now.around->values;
    solve(&from, now.mode, {now.around.get(), now.moved}, now.let_go);
}

const State* IslandSearch::best_state() const {
    const auto at = std::max_element(m_states.begin(), m_states.end(), [](const auto& a, const auto& b) { return a->score < b->score; });
    return at == m_states.end() ? nullptr : at->get();
}

double IslandSearch::best_score() const { return m_states.empty() ? kNone : best_state()->score; }

State* IslandSearch::doubtful(double best) const {
    State* out = nullptr;
    for (const auto& s : m_states)
        if (!s->solved && s->score > best - kWeighsIn && (out == nullptr || s->score > out->score)) out = s.get();
    return out;
}

// Where hundreds of states are about as likely, what stems from the least of them no longer counts.
double IslandSearch::depth_now() const {
    const double full = m_fits + m_expanded - m_limits.few_fits, most = m_limits.most_fits - m_limits.few_fits;
    return m_limits.depth - (m_limits.depth - m_limits.least_depth) * std::clamp(full / most, 0.0, 1.0);
}

void IslandSearch::solve_in_place(State& state) {
    keep(state, fit_of(state, kNextRounds));
    m_odds.score(state);
    share_fit(state);
}

bool IslandSearch::move_one(std::size_t a, std::size_t b) const {
    for (std::size_t j = 0; j < m_seen.size(); ++j)
        if (m_moves[a][j] != 0 && m_moves[b][j] != 0) return true;
    return false;
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

void IslandSearch::run(const CancelToken& cancel) {
    for (std::size_t i = 0; i < m_island.units.size(); ++i) {
        const int u = m_island.units[i];
        if (!m_net.out_of[static_cast<std::size_t>(u)].empty()) m_enumerated[i] = 1;
        std::vector<double> by_mode;
        m_odds.leaf(i, nullptr, 1, by_mode);
        m_best_alone.push_back(static_cast<std::uint8_t>(std::max_element(by_mode.begin(), by_mode.end()) - by_mode.begin()));
    }
    if (!m_seen.empty()) {
        State start;
        start.mode = m_best_alone;
        for (const auto& u : prior_of(start.mode)) start.values.push_back(u.middle);
        add_influenced(fit_of(start, kFirstRounds), start.mode);
        add_brought_down();
    }
    m_odds.settle(m_best_alone);
    if (add_all()) return;
    solve(nullptr, m_best_alone, {});
    m_looked_again = m_seen.empty();
    look_on(cancel);
    for (int k = 0; k < kBeginnings && !cancel.cancelled() && begin_again(); ++k) {
        m_limits.most_fits = m_fits + kMoreFits;
        look_on(cancel);
    }
    for (int k = 0; k < kBeginnings && !cancel.cancelled() && look_back(); ++k) {
        m_limits.most_fits = m_fits + kMoreFits;
        look_on(cancel);
    }
    for (int k = 0; k < kBeginnings && !cancel.cancelled() && put_in_its_place(); ++k) {
        m_limits.most_fits = m_fits + kMoreFits;
        look_on(cancel);
    }
    if (!cancel.cancelled()) look_across_edges();
    m_waiting.clear();
    m_around.reset();
    for (auto& s : m_states) { // some fifty kilobytes each
        s->fit.reset();
        s->screened.clear();
    }
}

// In this state readings speak of parts of which they said nothing before: those are told apart from now on.
bool IslandSearch::uncovers(const State& state) {
    const auto before = m_enumerated;
    settle_moves(fit_of(state, 2), state.mode);
    if (m_enumerated == before) return false;
    m_odds.settle(m_best_alone);
    for (auto& s : m_states) {
        s->expanded = false;
        m_odds.score(*s);
    }
    return true;
}

void IslandSearch::look_on(const CancelToken& cancel) {
    while (!cancel.cancelled()) {
        State* next = nullptr;
        double best = kNone;
        for (const auto& s : m_states) {
            best = std::max(best, s->score);
            if (!s->expanded && (next == nullptr || s->score > next->score)) next = s.get();
        }
        if (State* added = doubtful(best); added != nullptr && m_fits < m_limits.most_fits + kMoreFits) {
            solve_in_place(*added);
            continue;
        }
        const bool go_on = next != nullptr && next->score >= best - depth_now();
        const bool waits = !m_waiting.empty() && m_waiting.front().estimate >= best - m_limits.slack + m_limits.depth - depth_now();
        if (!go_on && !waits) {
            if (m_fits < m_limits.most_fits && m_looked_back++ < kLooksBack && best_state() != nullptr && uncovers(*best_state())) continue;
            break;
        }
        if (m_fits >= m_limits.most_fits || static_cast<int>(m_states.size()) >= m_limits.most_states) break;
        // An estimate may be far too low: while there is time, what waits comes before what else may follow.
        const double ahead = m_limits.slack / 2 * (depth_now() - m_limits.least_depth) / (m_limits.depth - m_limits.least_depth);
        if (waits && (!go_on || m_waiting.front().estimate + ahead > next->score)) {
            solve_waiting();
            continue;
        }
        if (!m_looked_again && m_states.size() > 1) {
            m_looked_again = true;
            if (uncovers(*next)) continue;
        }
        expand(*next);
    }
}

} // namespace ohmo::belief
