// SPDX-License-Identifier: GPL-3.0-or-later
// Another beginning of a search that ended where readings are given up.
#include "belief/screen.h"
#include "belief/search.h"

#include <algorithm>
#include <functional>

namespace ohmo::belief {
namespace {

constexpr std::ptrdiff_t kManySlips = 2;
constexpr int kSettled = 6;          // rounds after which a fit that gave up readings moves no more
constexpr std::size_t kPaired = 5;   // of the likeliest children
constexpr std::size_t kInPlace = 10; // of what may stand in a fault's place
constexpr double kBentAway = 1;      // spreads of a junction that may not be there
constexpr int kAcross = 16;          // of the likeliest states that have them otherwise than the best
constexpr int kAcrossRounds = 10, kThereRounds = 3;

} // namespace

// Readings that the best state gives up, two and more of them, are seldom all slips: what mends one of them is tried together with what it
// brings down and without what was made up in its place. One change at a time would first lead uphill. Whether something better was found.
bool IslandSearch::begin_again() {
    if (m_seen.empty()) return false;
    const State best = *best_state(); // another may be the best once states are added
    const Fit around = best.fit ? *best.fit : fit_of(best, 0);
    const auto slips = std::count(around.slipped.begin(), around.slipped.end(), 1);
    if (slips < kManySlips) return false;
    std::vector<Beginning> beginnings = beginnings_from(best, around);
    for (const auto& mode : without_others(best.mode, kNobody)) { // what was made up may hide what mends it
        if (mode == best.mode) continue;
        State without;
        without.mode = mode;
        without.values = start_from(best, mode);
        without.evidence = best.evidence;
        for (auto& r : beginnings_from(without, fit_of(without, kThereRounds)))
            if (r.left <= slips && find(r.mode) == nullptr) {
                r.taken_back = true;
                beginnings.push_back(std::move(r));
            }
    }
    std::sort(beginnings.begin(), beginnings.end());
    beginnings.resize(std::min(beginnings.size(), kRescues));
    for (const auto& r : beginnings)
        for (const auto& with : with_children(r.mode, r.position))
            for (auto& trial : r.taken_back ? std::vector<std::vector<std::uint8_t>>{with} : without_others(with, r.position))
                if (find(trial) == nullptr) solve(nullptr, std::move(trial), {});
    return best_score() > best.score + kBetterFit;
}

// Every change of one part by which a reading that this fit gives up would come near what was shown.
std::vector<IslandSearch::Beginning> IslandSearch::beginnings_from(const State& base, const Fit& around) {
    const auto prior = prior_of(base.mode);
    const auto slips = std::count(around.slipped.begin(), around.slipped.end(), 1);
    Screen screen(m_island.circuit, m_where, m_bench, prior, m_seen, around);
    std::vector<Beginning> out;
    for (std::size_t i = 0; i < base.mode.size(); ++i)
        for (int m = 0; m < static_cast<int>(unit(i).modes.size()) && m_enumerated[i] != 0; ++m) {
            if (m == base.mode[i]) continue;
            const auto to = change(i, base.mode[i], m);
            if (to.empty()) continue;
            const int mended = slips_mended(screen, around, to, true);
            if (mended == 0) continue;
            State trial;
            trial.mode = base.mode;
            trial.mode[i] = static_cast<std::uint8_t>(m);
            trial.evidence = base.evidence;
            m_odds.score(trial);
            out.push_back({static_cast<int>(slips) - mended, -trial.score, std::move(trial.mode), i, false});
        }
    return out;
}

// The state with the deviation there: alone, with each of the likeliest that it brings down, with each two of them, and with all.
std::vector<std::vector<std::uint8_t>> IslandSearch::with_children(const std::vector<std::uint8_t>& mode, std::size_t position) const {
    std::vector<const Edge*> children;
    for (int e : m_net.out_of[static_cast<std::size_t>(m_island.units[position])]) {
        const Edge& edge = m_net.edges[static_cast<std::size_t>(e)];
        const int child = m_position[static_cast<std::size_t>(edge.child)];
        if (edge.parent_mode != mode[position] || edge.chance < kHides || child < 0 || m_enumerated[static_cast<std::size_t>(child)] == 0)
            continue;
        const auto at = static_cast<std::size_t>(child);
        if (mode[at] == m_best_alone[at] && mode[at] != edge.child_mode) children.push_back(&edge);
    }
    std::stable_sort(children.begin(), children.end(), [](const Edge* a, const Edge* b) { return a->chance > b->chance; });
    const auto with = [&](std::vector<std::uint8_t> state, const Edge* edge) {
        state[static_cast<std::size_t>(m_position[static_cast<std::size_t>(edge->child)])] = static_cast<std::uint8_t>(edge->child_mode);
        return state;
    };
    std::vector<std::vector<std::uint8_t>> out = {mode};
    auto all = mode;
    for (std::size_t i = 0; i < children.size(); ++i) {
        const auto single = with(mode, children[i]);
        out.push_back(single);
        all = with(std::move(all), children[i]);
        for (std::size_t k = 0; k < i && i < kPaired; ++k) out.push_back(with(single, children[k]));
    }
    if (children.size() > 2) out.push_back(std::move(all));
    return out;
}

// The state, and with each of its other deviations taken back.
std::vector<std::vector<std::uint8_t>> IslandSearch::without_others(const std::vector<std::uint8_t>& mode, std::size_t position) const {
    std::vector<std::vector<std::uint8_t>> out = {mode};
    for (std::size_t i = 0; i < mode.size(); ++i) {
        if (i == position || mode[i] == m_best_alone[i]) continue;
        out.push_back(mode);
        out.back()[i] = m_best_alone[i];
    }
    return out;
}

// A fault that no reading places on one of twins: on that one where looks and age make it likelier, also where the other then has none.
// One deviation at a time would first have to give it to both.
void IslandSearch::move_among_twins(const State& base) {
    for (const auto& group : m_twins.groups())
        for (std::size_t from : group)
            for (std::size_t to : group) {
                if (from == to || base.mode[from] == m_best_alone[from] || base.mode[to] == base.mode[from]) continue;
                for (const auto left : {base.mode[to], m_best_alone[from]}) {
                    State trial;
                    trial.mode = base.mode;
                    trial.mode[to] = base.mode[from];
                    trial.mode[from] = left;
                    if (find(trial.mode) != nullptr) continue;
                    trial.evidence = base.evidence;
                    m_odds.score(trial);
                    if (trial.score > base.score - kWeighsIn && m_fits < m_limits.most_fits) solve(&base, trial.mode, {});
                }
            }
}

// What was learned in the best state may be learned without one of its deviations too: each is taken back and fitted from there, so that
// nothing is condemned for a better fit that was only found beside it. Whether a state came out better.
bool IslandSearch::look_back() {
    if (m_seen.empty()) return false;
    const State base = *best_state(); // another may be the best once states are added
    bool better = false;
    for (std::size_t i = 0; i < base.mode.size(); ++i) {
        if (m_enumerated[i] == 0) continue;
        for (const std::uint8_t to : {m_best_alone[i], std::uint8_t{0}}) {
            if (base.mode[i] == to) continue;
            auto mode = base.mode;
            mode[i] = to;
            State* known = find(mode);
            if (known == nullptr) {
                solve(&base, std::move(mode), {});
                continue;
            }
            better |= fit_from(base, *known);
        }
    }
    return better;
}

// Fits a state again from what another has learned. Whether it came out better.
bool IslandSearch::fit_from(const State& base, State& known) {
    return take_better(known, fit(m_island.circuit, m_bench, prior_of(known.mode), start_from(base, known.mode), m_seen, m_options));
}

bool IslandSearch::take_better(State& state, Fit done) {
    if (done.evidence < (state.solved ? state.evidence : kNone) + kSameFit) return false;
    keep(state, std::move(done));
    m_odds.score(state);
    share_fit(state);
    return true;
}

// A fault may have been found first where another, as likely or more, shows the same: a capacitor for the switch behind a winding. Each of
// those takes its place, since both at once fit no better and none at all leads uphill, also where it stands already, otherwise broken; one
// that was tried from elsewhere and fits worse, from what is learned by now. Whether something better was found.
bool IslandSearch::put_in_its_place() {
    if (m_seen.empty()) return false;
    const State base = *best_state();
    const Fit around = base.fit ? *base.fit : fit_of(base, 0);
    const auto prior = prior_of(base.mode);
    Screen screen(m_island.circuit, m_where, m_bench, prior, m_seen, around);
    std::vector<std::pair<double, std::vector<std::uint8_t>>> others; // by their score, as well as they promise to fit
    for (std::size_t i = 0; i < base.mode.size(); ++i) {
        if (base.mode[i] == m_best_alone[i] || change(i, m_best_alone[i], base.mode[i]).empty()) continue;
        for (std::size_t k = 0; k < base.mode.size(); ++k) {
            if (k == i || m_enumerated[k] == 0 || !move_one(i, k)) continue;
            for (int m = 0; m < static_cast<int>(unit(k).modes.size()); ++m) {
                if (m == base.mode[k] || change(k, base.mode[k], m).empty()) continue;
                State trial;
                trial.mode = base.mode;
                trial.mode[i] = m_best_alone[i];
                trial.mode[k] = static_cast<std::uint8_t>(m);
                if (const State* known = find(trial.mode); known != nullptr && known->evidence > base.evidence - kBetterFit) continue;
                trial.evidence = base.evidence;
                m_odds.score(trial);
                if (trial.score <= base.score - kWeighsIn) continue;
                auto to = change(k, base.mode[k], m);
                for (const auto& o : change(i, base.mode[i], m_best_alone[i])) to.push_back(o);
                others.emplace_back(trial.score + std::min(0.0, screen.gain(to)), std::move(trial.mode));
            }
        }
    }
    std::sort(others.begin(), others.end(), std::greater<>());
    others.resize(std::min(others.size(), kInPlace));
    for (auto& [hoped, mode] : others) {
        if (State* known = find(mode))
            fit_from(base, *known);
        else
            solve(&base, std::move(mode), {});
    }
    return best_score() > base.score;
}

// Whether an input has a clamp to its supply is one spread for most readings; one that shows nothing at two volts says that there is none,
// and then none is as likely as one: for the states that it would cost readings as for the best, which may have bent it that far or given
// the reading up. Each alone, on the best state.
std::vector<int> IslandSearch::better_without() const {
    if (m_seen.empty() || m_states.empty()) return {};
    const State& best = *best_state();
    Fit around = fit_of(best, 0);
    const auto bent_away = [&](std::size_t k) {
        const auto& healthy = m_island.prior[k];
        return healthy.maybe && around.values[k] < healthy.middle - kBentAway * healthy.spread;
    };
    bool any_bent = false;
    for (std::size_t k = 0; k < m_island.prior.size(); ++k) any_bent |= bent_away(k);
    if (!any_bent && std::count(around.slipped.begin(), around.slipped.end(), 1) == 0) return {};
    // A fit that gives up a reading may not be the best of this state: what is gained counts from there.
    double evidence = std::max({around.evidence, best.evidence, fit_of(best, kSettled).evidence});
    auto prior = prior_of(best.mode);
    std::vector<int> out = m_absent;
    const std::size_t before = out.size();
    for (std::size_t k = 0; k < prior.size(); ++k) {
        const auto& healthy = m_island.prior[k];
        if (!healthy.maybe || std::find(out.begin(), out.end(), static_cast<int>(k)) != out.end()) continue;
        const bool bent = bent_away(k);
        bool moves = bent;
        for (std::size_t j = 0; j < m_seen.size(); ++j)
            moves |= std::fabs(around.slopes(static_cast<Eigen::Index>(j), static_cast<Eigen::Index>(k))) * healthy.spread >
                     kMoves * m_seen[j].touch.noise;
        if (!moves) continue;
        auto without = prior;
        without[k] = {kLnNoJunction, healthy.spread};
        auto start = around.values;
        start[k] = kLnNoJunction;
        Fit other = fit(m_island.circuit, m_bench, without, start, m_seen, m_options);
        if (other.evidence < evidence + (bent ? 0 : kBetterFit)) continue;
        evidence = other.evidence;
        around = std::move(other);
        prior = std::move(without);
        out.push_back(static_cast<int>(k));
    }
    return out.size() > before ? out : std::vector<int>{};
}

// A value a little past the full scale of a range may be of it or of the next one, with another test current: a fit that came to rest
// with some of them on one and some on the other does not see beyond. The best state is tried with all of them on either, what weighs in
// beside it as the best has them.
void IslandSearch::look_across_edges() {
    std::vector<std::size_t> edges;
    for (std::size_t j = 0; j < m_seen.size(); ++j)
        if (m_seen[j].place.what == Quantity::Ohms &&
            on_the_edge(m_bench.meters[static_cast<std::size_t>(m_seen[j].place.meter)], m_seen[j].shown))
            edges.push_back(j);
    if (edges.empty()) return;
    const auto taken = [&](const State& state) { // by reading on an edge
        std::vector<int> out;
        for (std::size_t j : edges) out.push_back(state.fit->forecasts[j]->range);
        return out;
    };
    const double best = best_score();
    std::vector<State*> there;
    for (const auto& s : m_states)
        if (s->solved && s->fit && s->score > best - kWeighsIn) there.push_back(s.get());
    if (there.empty()) return;
    std::stable_sort(there.begin(), there.end(), [](const State* a, const State* b) { return a->score > b->score; });
    for (const RangeTaken all : {RangeTaken::Below, RangeTaken::Above}) fit_across(*there.front(), all);
    const auto wanted = taken(*there.front());
    int tried = 0;
    for (State* state : there) {
        if (state == there.front() || !state->fit || taken(*state) == wanted) continue;
        const bool below = taken(*state) > wanted;
        fit_across(*state, below ? RangeTaken::Below : RangeTaken::Above);
        if (++tried >= kAcross) break;
    }
}

void IslandSearch::fit_across(State& state, RangeTaken all) {
    const auto prior = prior_of(state.mode);
    FitOptions options = m_options;
    options.rounds = kAcrossRounds;
    options.taken = all;
    const Fit first = fit(m_island.circuit, m_bench, prior, middles(prior), m_seen, options);
    options.rounds = kThereRounds;
    options.taken = RangeTaken::Nearer;
    take_better(state, fit(m_island.circuit, m_bench, prior, first.values, m_seen, options));
}

} // namespace ohmo::belief
