// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/forecasts.h"

#include "belief/alone.h"
#include "belief/axis.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr std::size_t kRough = 8, kAll = 30;
constexpr double kEnough = 0.997, kLeastState = 1e-4;
constexpr double kLeastSpread = 0.05, kLeastVolts = 0.03, kMostSpread = 4;

// Or made or set one way or the other.
bool is_sound(const belief::Unit& unit, std::size_t mode) { return mode == 0 || unit.modes[mode].setting; }

} // namespace

struct Forecasts::IslandStates {
    struct Living {
        const belief::State* state = nullptr;
        double p = 0;
        int story = 0;
        std::vector<Fault> faults;
        belief::Fit fit;
        std::unique_ptr<belief::Network> network;
    };
    const belief::IslandSearch* search = nullptr;
    std::vector<std::unique_ptr<Living>> living;
    std::vector<double> sound; ///< values of a board without faults
    std::unique_ptr<belief::Network> sound_network;
    struct Toggle { ///< a part in a mode that none of these has, or not as often as it is, in the likeliest state
        int unit, mode;
        double p;
        std::vector<double> values;
        std::unique_ptr<belief::Network> network;
    };
    std::vector<std::unique_ptr<Toggle>> toggles;
};

Forecasts::Forecasts(const Board& board, const belief::Belief& belief, const Evidence& evidence, std::vector<char> asked, double least_mode)
    : m_board(board), m_belief(belief), m_evidence(evidence), m_asked(std::move(asked)), m_least_mode(least_mode), m_ways(board),
      m_bench(belief.bench()), m_islands(belief.islands().size()) {}
Forecasts::~Forecasts() = default;

int Forecasts::setting(const BoardState& state) {
    auto out = m_belief.out_of(state, m_evidence.renewed);
    const auto at = std::find(m_bench.out.begin(), m_bench.out.end(), out);
    if (at != m_bench.out.end()) return static_cast<int>(at - m_bench.out.begin());
    m_bench.out.push_back(std::move(out));
    return static_cast<int>(m_bench.out.size()) - 1;
}

std::optional<belief::Place> Forecasts::place(const Query& q, int& island) {
    if (q.red < 0 || q.black < 0 || q.red == q.black) return std::nullopt;
    const auto red = m_belief.model().home[static_cast<std::size_t>(q.red)],
               black = m_belief.model().home[static_cast<std::size_t>(q.black)];
    if (red.first != black.first) return std::nullopt;
    island = red.first;
    return belief::Place{q.what == Quantity::Leakage ? Quantity::Ohms : q.what, red.second, black.second, setting(q.state), q.meter};
}

const Observation* Forecasts::shown_again(const Query& q) const {
    const Observation* last = nullptr;
    int same = 0;
    for (const auto& o : m_evidence.observations) {
        if (o.kind != Seen::Reading || !of_one_time(o, m_evidence)) continue;
        const auto& p = o.query;
        if (p.what != q.what || p.red != q.red || p.black != q.black || p.alone != q.alone || p.meter != q.meter) continue;
        const bool agrees = last != nullptr && belief::agree(m_board.practice(), q.what, {last->value, last->over}, {o.value, o.over},
                                                             m_bench.meters[static_cast<std::size_t>(q.meter)]);
        same = agrees ? same + 1 : 1;
        last = &o;
    }
    return same >= 2 ? last : nullptr;
}

belief::Forecast Forecasts::read(belief::Network& network, const Query& q, const belief::Place& at, const Observation* before, bool slopes,
                                 const belief::Forecast* like) {
    auto out = network.read(at, nullptr, slopes, like);
    if (before == nullptr) return out;
    belief::Place then = at;
    then.setting = setting(before->query.state);
    const auto shown = belief::touched(m_board.practice(), q.what, {before->value, before->over}, false,
                                       m_bench.meters[static_cast<std::size_t>(q.meter)]);
    out.y += shown.y - network.read(then, nullptr, false, &out).y;
    return out;
}

Forecasts::IslandStates& Forecasts::states(int number) {
    auto& made = m_islands[static_cast<std::size_t>(number)];
    if (made) return *made;
    made = std::make_unique<IslandStates>();
    const auto& search = *m_belief.islands()[static_cast<std::size_t>(number)];
    made->search = &search;
    std::vector<const belief::State*> order;
    for (const auto& s : search.states())
        if (s->p > kLeastState) order.push_back(s.get());
    std::stable_sort(order.begin(), order.end(), [](const belief::State* a, const belief::State* b) { return a->p > b->p; });
    std::map<std::vector<int>, int> stories;
    double carried = 0;
    for (const auto* s : order) {
        if (made->living.size() >= kAll || carried > kEnough) break;
        carried += s->p;
        auto& l = *made->living.emplace_back(std::make_unique<IslandStates::Living>());
        l.state = s;
        l.p = s->p;
        std::vector<int> parts;
        for (std::size_t i = 0; i < s->mode.size(); ++i) {
            const auto& unit = m_belief.model().units[static_cast<std::size_t>(search.island().units[i])];
            if (is_sound(unit, static_cast<std::size_t>(s->mode[i]))) continue; // how it is made or set: one story with the other way
            l.faults.push_back(unit.modes[s->mode[i]].fault);
            if (search.enumerated(i) && !unit.modes[s->mode[i]].values.empty() && asked(unit.part)) parts.push_back(unit.part);
        }
        std::sort(parts.begin(), parts.end());
        l.story = stories.try_emplace(parts, static_cast<int>(stories.size())).first->second;
        l.fit = search.fit_of(*s, s->solved ? 0 : 1);
    }
    if (made->living.empty()) return *made;
    const auto& first = *made->living.front();
    made->sound = first.fit.values;
    const auto& island = search.island();
    for (std::size_t i = 0; i < island.units.size(); ++i) {
        const auto& unit = m_belief.model().units[static_cast<std::size_t>(island.units[i])];
        for (const auto& o : unit.modes[first.state->mode[i]].values)
            if (!is_sound(unit, static_cast<std::size_t>(first.state->mode[i])))
                made->sound[static_cast<std::size_t>(o.unknown)] = island.prior[static_cast<std::size_t>(o.unknown)].middle;
        if (!asked(unit.part)) continue;
        std::vector<double> living(unit.modes.size(), 0); // by the states above; of a part on its own they have only one
        if (search.enumerated(i))
            for (const auto& l : made->living) living[l->state->mode[i]] += l->p;
        for (std::size_t m = 0; m < unit.modes.size(); ++m) {
            const double p = m_belief.mode(island.units[i], static_cast<int>(m)) - living[m];
            const bool both_sound = is_sound(unit, m) && is_sound(unit, static_cast<std::size_t>(first.state->mode[i]));
            if (m == first.state->mode[i] || both_sound || p < m_least_mode) continue;
            auto& t = *made->toggles.emplace_back(std::make_unique<IslandStates::Toggle>());
            t.unit = island.units[i];
            t.mode = static_cast<int>(m);
            t.p = p;
            t.values = first.fit.values;
            for (const auto& o : unit.modes[first.state->mode[i]].values)
                t.values[static_cast<std::size_t>(o.unknown)] = island.prior[static_cast<std::size_t>(o.unknown)].middle;
            for (const auto& o : unit.modes[m].values) t.values[static_cast<std::size_t>(o.unknown)] = o.middle;
        }
    }
    return *made;
}

Outcome Forecasts::outcome(const Query& q, const belief::Forecast& f, double variance) const {
    const auto touch = belief::touched(m_board.practice(), q.what, {q.what == Quantity::Diode ? f.y : f.value, f.over}, q.alone >= 0,
                                       m_bench.meters[static_cast<std::size_t>(q.meter)]);
    const bool four_wires = m_bench.meters[static_cast<std::size_t>(q.meter)].residue < m_board.practice().four_wire_residue;
    const double noise = std::max(touch.noise, q.what == Quantity::Diode ? kLeastVolts : four_wires ? 0 : kLeastSpread);
    return {0, f.y, std::min(kMostSpread, std::sqrt(variance + noise * noise + f.blur * f.blur)), 0};
}

std::optional<Outcome> Forecasts::leading(const Query& q) {
    int number = -1;
    const auto at = place(q, number);
    if (!at || states(number).living.empty()) return std::nullopt;
    auto& l = *states(number).living.front();
    belief::Network network(states(number).search->island().circuit, m_bench.out, m_bench.meters, l.fit.values);
    const auto f = network.read(*at, nullptr, true);
    return outcome(q, f, l.fit.variance_of(f.slope));
}

std::vector<Outcome> Forecasts::roughly(const Query& q) {
    int number = -1;
    const auto at = place(q, number);
    if (!at) return {};
    auto& island = states(number);
    const auto* before = shown_again(q);
    std::vector<Outcome> out;
    double variance = 0;
    belief::Forecast last;
    for (std::size_t s = 0; s < std::min(kRough, island.living.size()); ++s) {
        auto& l = *island.living[s];
        if (!l.network)
            l.network = std::make_unique<belief::Network>(island.search->island().circuit, m_bench.out, m_bench.meters, l.fit.values);
        auto f = read(*l.network, q, *at, before, s == 0, &last);
        if (s == 0) variance = l.fit.variance_of(f.slope);
        out.push_back(outcome(q, f, variance));
        out.back().p = l.p;
        out.back().story = l.story;
        last = std::move(f);
    }
    return out;
}

bool Forecasts::on_the_leads(const belief::Unit& unit, const Query& q) const {
    const auto touches = [&](NetId net) { return unit.alone_node.contains(net); };
    const auto reaches = [&](NetId net) { return touches(net) || touches(m_ways.inside(net)); };
    const auto contact = [&](NetId net) { return m_ways.inside(net) != net && touches(net); };
    if ((reaches(q.red) && reaches(q.black)) || contact(q.red) || contact(q.black)) return true;
    const auto& way = m_ways.between(q.red, q.black);
    return std::find(way.begin(), way.end(), unit.part) != way.end();
}

std::vector<Case> Forecasts::cases(const Query& q) {
    if (q.alone >= 0) return cases_alone(q);
    int number = -1;
    const auto at = place(q, number);
    if (!at) return {};
    auto& island = states(number);
    const auto* before = shown_again(q);
    std::vector<Case> out;
    belief::Forecast last;
    for (auto& living : island.living) {
        auto& l = *living;
        if (!l.network)
            l.network = std::make_unique<belief::Network>(island.search->island().circuit, m_bench.out, m_bench.meters, l.fit.values);
        auto f = read(*l.network, q, *at, before, true, &last);
        out.push_back({outcome(q, f, l.fit.variance_of(f.slope)), l.faults});
        out.back().outcome.p = l.p;
        out.back().outcome.story = l.story;
        last = std::move(f);
    }
    if (out.empty()) return out;
    for (auto& toggle : island.toggles) { // who is on the leads but moved nothing so far
        auto& t = *toggle;
        const auto& unit = m_belief.model().units[static_cast<std::size_t>(t.unit)];
        if (!on_the_leads(unit, q)) continue;
        if (!t.network)
            t.network = std::make_unique<belief::Network>(island.search->island().circuit, m_bench.out, m_bench.meters, t.values);
        const auto f = read(*t.network, q, *at, before, true, &last);
        double variance = 0;
        for (const auto& o : unit.modes[static_cast<std::size_t>(t.mode)].values) variance += std::pow(f.slope(o.unknown) * o.spread, 2);
        Case c{outcome(q, f, variance + island.living.front()->fit.variance_of(f.slope)), island.living.front()->faults};
        c.outcome.p = t.p;
        c.outcome.story = 1000 + t.unit;
        std::erase_if(c.faults, [&](const Fault& fault) { return fault.part == unit.part; });
        if (!is_sound(unit, static_cast<std::size_t>(t.mode))) c.faults.push_back(unit.modes[static_cast<std::size_t>(t.mode)].fault);
        for (auto& other : out) other.outcome.p *= 1 - t.p; // the states count it as it is likeliest
        out.push_back(std::move(c));
    }
    return out;
}

std::vector<Case> Forecasts::cases_alone(const Query& q) const {
    const auto u = m_belief.model().unit_between(q.alone, q.red, q.black, m_evidence.renewed.contains(q.alone));
    if (!u) return {};
    const auto& unit = m_belief.model().units[static_cast<std::size_t>(*u)];
    const auto& island = m_belief.model().islands[static_cast<std::size_t>(unit.island)];
    const belief::Place at{q.what, unit.alone_node.at(q.red), unit.alone_node.at(q.black), 0, q.meter};
    const auto& refined = m_belief.direct().refined[static_cast<std::size_t>(*u)];
    std::vector<Case> out;
    for (std::size_t m = 0; m < unit.modes.size(); ++m) {
        const double p = m_belief.mode(*u, static_cast<int>(m));
        if (p < 1e-4) continue;
        const auto prior = belief::prior_in(island, unit.modes[m], refined.empty() ? std::vector<belief::Override>{} : refined[m]);
        const auto alone = belief::forecast_alone(m_belief.model(), unit, prior, m_bench.meters, at);
        out.push_back({outcome(q, alone.shown, alone.variance), {}});
        out.back().outcome.p = p;
        out.back().outcome.story = is_sound(unit, m) ? 0 : 1;
        if (!is_sound(unit, m)) out.back().faults.push_back(unit.modes[m].fault);
    }
    return out;
}

std::optional<Outcome> Forecasts::healthy(const Query& q) {
    if (q.alone >= 0) {
        for (const auto& c : cases_alone(q))
            if (c.faults.empty()) return c.outcome;
        return std::nullopt;
    }
    int number = -1;
    const auto at = place(q, number);
    if (!at) return std::nullopt;
    auto& island = states(number);
    if (island.living.empty()) return std::nullopt;
    if (!island.sound_network)
        island.sound_network =
            std::make_unique<belief::Network>(island.search->island().circuit, m_bench.out, m_bench.meters, island.sound);
    const auto f = read(*island.sound_network, q, *at, shown_again(q), true);
    return outcome(q, f, island.living.front()->fit.variance_of(f.slope));
}

std::map<int, double> Forecasts::variances(const Query& q) {
    std::map<int, double> out;
    int number = -1;
    const auto at = place(q, number);
    if (!at || states(number).living.empty()) return out;
    auto& island = states(number);
    auto& l = *island.living.front();
    if (!l.network)
        l.network = std::make_unique<belief::Network>(island.search->island().circuit, m_bench.out, m_bench.meters, l.fit.values);
    const auto f = l.network->read(*at, nullptr, true);
    const auto& owner = island.search->island().owner;
    for (std::size_t k = 0; k < owner.size(); ++k)
        if (owner[k] >= 0)
            out[m_belief.model().units[static_cast<std::size_t>(owner[k])].part] +=
                std::pow(f.slope(static_cast<Eigen::Index>(k)), 2) * l.fit.variance(static_cast<Eigen::Index>(k));
    return out;
}

double Forecasts::chance_below(const std::vector<Outcome>& outcomes, double ohms) const {
    double p = 0;
    for (const auto& o : outcomes)
        if (belief::ohms_of_axis(o.y) < ohms) p += o.p;
    return p;
}

} // namespace ohmo
