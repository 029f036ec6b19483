// SPDX-License-Identifier: GPL-3.0-or-later
// A prediction depends only on faults whose part touches the galvanic island under the leads (found on the healthy board in that state), so
// it is remembered by that part of the fault set. When a fault joins islands, all faults count. For AC readings the coupling of windings to
// other islands is kept, but faults over there are taken as absent.
#include "readings/predictor.h"

#include "circuit/solver_store.h"
#include "circuit/square_wave.h"

#include <algorithm>
#include <cmath>
#include <deque>
#include <unordered_map>

namespace ohmo {
namespace {

constexpr double kModelShare = 0.02;   // what the models leave out
constexpr double kPlainShare = 0.005;  // where nothing but resistors carries the current
constexpr double kLeastLeakage = 1e-8; // A: damp and flux
constexpr double kWorthSharing = 0.03; // of the part that moves a reading most: what is kept for comparing readings

bool matters_for_ac(const Fault& f) { return f.mode != FaultMode::Dead && f.mode != FaultMode::Weak && f.mode != FaultMode::Intermittent; }

} // namespace

struct Predictor::StateData {
    int number = 0;
    BoardState state;
    std::vector<int> island; // by net, healthy
    std::optional<SolverStore> solvers;
};

// Every fault set asked for has a place; sets that differ only in what the reading cannot see share one.
struct Predictor::QueryData {
    Query query;
    StateData* state = nullptr; // the part alone, or the board as it is
    std::vector<char> touches;  // by part: can its faults matter?
    std::vector<char> seen;     // by fault number: kUnasked, or the bits below
    std::vector<int> place;     // by set, -1 not asked yet
    std::unordered_map<std::vector<int>, int, FaultSets::Hash> by_relevant;
    std::vector<std::vector<int>> relevant; // by place
    std::vector<int> answer;                // by place: number of the prediction, -1 before it is computed
    std::deque<Prediction> predictions;
    std::optional<ReadingHint> hint; // from the healthy board

    static constexpr char kUnasked = 0, kAsked = 1, kMatters = 2, kTouches = 4, kJoins = 8;
};

double score_axis(Quantity what, double value) {
    switch (what) {
    case Quantity::Ohms:
        return std::log(std::max(value, 0.0) + 0.1);
    case Quantity::Esr:
        return std::log(std::max(value, 0.0) + 0.02);
    case Quantity::Farads:
        return std::log(std::max(value, 0.0) + 1e-12);
    case Quantity::Leakage:
        return std::log(std::max(value, 0.0) + kLeastLeakage);
    default:
        return value;
    }
}

double score_value(Quantity what, double x) {
    switch (what) {
    case Quantity::Ohms:
        return std::max(0.0, std::exp(x) - 0.1);
    case Quantity::Esr:
        return std::max(0.0, std::exp(x) - 0.02);
    case Quantity::Farads:
        return std::max(0.0, std::exp(x) - 1e-12);
    case Quantity::Leakage:
        return std::max(0.0, std::exp(x) - kLeastLeakage);
    default:
        return std::max(0.0, x);
    }
}

Predictor::Predictor(const Board& board, std::vector<MeterProfile> meters, std::shared_ptr<const BoardRoles> roles)
    : m_board(board), m_roles(roles ? std::move(roles) : std::make_shared<const BoardRoles>(find_roles(board))),
      m_meters(std::move(meters)), m_behaviour(m_board, *m_roles) {
    if (m_meters.empty()) m_meters.emplace_back();
}

std::size_t Predictor::solved() const {
    const std::lock_guard guard(m_lock);
    return m_solved;
}

Predictor::StateData& Predictor::state_data(const BoardState& state) const {
    for (const auto& s : m_states)
        if (s->state == state) return *s;
    auto data = std::make_shared<StateData>();
    data->number = static_cast<int>(m_states.size());
    data->state = state;
    data->solvers.emplace(std::make_shared<const BoardCircuit>(m_board, state));
    data->island.resize(m_board.nets.size());
    for (std::size_t n = 0; n < m_board.nets.size(); ++n) data->island[n] = data->solvers->circuit().healthy().island(static_cast<int>(n));
    m_states.push_back(data);
    return *m_states.back();
}

Predictor::QueryData& Predictor::query_data(const Query& query) const {
    StateData& state = state_data(query.state);
    auto& kept = m_queries[{static_cast<int>(query.what), query.red, query.black, query.alone, query.meter, state.number}];
    if (kept) return *kept;
    kept = std::make_shared<QueryData>();
    kept->query = query;
    kept->state = query.alone >= 0 ? &state_data(alone_state(query.alone)) : &state;
    kept->touches.assign(m_board.parts.size(), 0);
    const int red = state.island[static_cast<std::size_t>(query.red)], black = state.island[static_cast<std::size_t>(query.black)];
    for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
        if (query.alone >= 0) {
            kept->touches[i] = static_cast<int>(i) == query.alone;
            continue;
        }
        if (query.state.is_lifted(static_cast<int>(i))) continue;
        for (const auto& pin : m_board.parts[i].pins) {
            const int at = state.island[static_cast<std::size_t>(pin.id)];
            if (at == red || at == black) kept->touches[i] = 1;
        }
    }
    return *kept;
}

SetId Predictor::id(const std::vector<Fault>& faults) const {
    const std::lock_guard guard(m_lock);
    return m_sets.id(faults);
}

std::vector<SetId> Predictor::ids(const std::vector<Scenario>& scenarios) const {
    const std::lock_guard guard(m_lock);
    std::vector<SetId> out;
    out.reserve(scenarios.size());
    for (const auto& s : scenarios) out.push_back(m_sets.id(s.faults()));
    return out;
}

SetId Predictor::without(SetId set, const std::set<int>& parts) const {
    const std::lock_guard guard(m_lock);
    return m_sets.without(set, parts);
}

std::vector<const std::vector<int>*> Predictor::parts(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    std::vector<const std::vector<int>*> out;
    out.reserve(sets.size());
    for (SetId s : sets) out.push_back(&m_sets.parts(s));
    return out;
}

std::vector<const std::vector<int>*> Predictor::members(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    std::vector<const std::vector<int>*> out;
    out.reserve(sets.size());
    for (SetId s : sets) out.push_back(&m_sets.members(s));
    return out;
}

Fault Predictor::fault(int number) const {
    const std::lock_guard guard(m_lock);
    return m_sets.fault(number);
}

Prediction Predictor::predict(const Query& query, const std::vector<Fault>& faults) const {
    const std::lock_guard guard(m_lock);
    return computed(query_data(query), m_sets.id(faults));
}

const Prediction& Predictor::predict_set(const Query& query, SetId set) const {
    const std::lock_guard guard(m_lock);
    return computed(query_data(query), set);
}

std::vector<const Prediction*> Predictor::predict_all(const Query& query, const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    QueryData& data = query_data(query);
    std::vector<const Prediction*> out;
    out.reserve(sets.size());
    for (SetId set : sets) out.push_back(&computed(data, set));
    return out;
}

std::vector<const Prediction*> Predictor::predict_all(const Query& query, const std::vector<std::vector<Fault>>& fault_sets) const {
    const std::lock_guard guard(m_lock);
    QueryData& data = query_data(query);
    std::vector<const Prediction*> out;
    out.reserve(fault_sets.size());
    for (const auto& faults : fault_sets) out.push_back(&computed(data, m_sets.id(faults)));
    return out;
}

std::vector<int> Predictor::remembered(const Query& query, const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    QueryData& data = query_data(query);
    std::vector<int> out;
    out.reserve(sets.size());
    for (SetId set : sets) out.push_back(data.answer[static_cast<std::size_t>(place_of(data, set))]);
    return out;
}

Behaviour Predictor::behaviour(SetId set) const {
    const std::lock_guard guard(m_lock);
    if (m_behaves.size() < m_sets.size()) m_behaves.resize(m_sets.size());
    auto& kept = m_behaves[static_cast<std::size_t>(set)];
    if (!kept) kept = m_behaviour.judge(m_sets.faults(set));
    return *kept;
}

const Figures& Predictor::figures(SetId set) const {
    const Behaviour behaves = behaviour(set);
    const std::lock_guard guard(m_lock);
    const auto found = m_figures.find(set);
    if (found != m_figures.end()) return found->second;
    if (!m_figures_model) m_figures_model = std::make_unique<FiguresModel>(m_board, *m_roles);
    return m_figures.emplace(set, m_figures_model->of(m_sets.faults(set), behaves)).first->second;
}

std::vector<std::optional<Behaviour>> Predictor::remembered_behaviour(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    m_behaves.resize(m_sets.size());
    std::vector<std::optional<Behaviour>> out;
    out.reserve(sets.size());
    for (SetId set : sets) out.push_back(m_behaves[static_cast<std::size_t>(set)]);
    return out;
}

// A part on the bench is a board on which everything else is lifted.
BoardState Predictor::alone_state(int part) const {
    BoardState alone;
    alone.lifted.assign(m_board.parts.size(), 1);
    alone.lifted[static_cast<std::size_t>(part)] = 0;
    return alone;
}

int Predictor::place_of(QueryData& data, SetId set) const {
    if (data.place.size() < m_sets.size()) data.place.resize(m_sets.size(), -1);
    int& place = data.place[static_cast<std::size_t>(set)];
    if (place >= 0) return place;
    if (data.seen.size() < m_sets.fault_count()) data.seen.resize(m_sets.fault_count(), QueryData::kUnasked);
    const auto& members = m_sets.members(set);
    bool joined = false;
    for (int n : members) {
        char& bits = data.seen[static_cast<std::size_t>(n)];
        if (bits == QueryData::kUnasked) {
            const Fault& f = m_sets.fault(n);
            bits = QueryData::kAsked;
            if (is_direct(data.query.what) ? changes_dc(m_board, f) : matters_for_ac(f)) bits |= QueryData::kMatters;
            if (data.touches[static_cast<std::size_t>(f.part)]) bits |= QueryData::kTouches;
            if (data.query.alone < 0 && joins_islands(m_board, f)) bits |= QueryData::kJoins;
        }
        joined = joined || (bits & QueryData::kJoins) != 0;
    }
    std::vector<int> relevant;
    for (int n : members) {
        const char bits = data.seen[static_cast<std::size_t>(n)];
        if ((joined || (bits & QueryData::kTouches) != 0) && (bits & QueryData::kMatters) != 0) relevant.push_back(n);
    }
    const auto [at, fresh] = data.by_relevant.try_emplace(std::move(relevant), static_cast<int>(data.answer.size()));
    if (fresh) {
        data.relevant.push_back(at->first);
        data.answer.push_back(-1);
    }
    return place = at->second;
}

const Prediction& Predictor::computed(QueryData& data, SetId set) const {
    const auto place = static_cast<std::size_t>(place_of(data, set));
    if (data.answer[place] >= 0) return data.predictions[static_cast<std::size_t>(data.answer[place])];
    const Query& query = data.query;
    ++m_solved;
    StateData& state = *data.state;
    if (is_direct(query.what) && !data.hint) {
        data.hint.emplace();
        const auto& meter = m_meters[static_cast<std::size_t>(query.meter)];
        read_dc(state.solvers->circuit().healthy(), meter, query.what, query.red, query.black, nullptr, &*data.hint);
    }
    std::vector<Fault> relevant;
    for (int n : data.relevant[place]) relevant.push_back(m_sets.fault(n));
    std::sort(relevant.begin(), relevant.end());
    data.predictions.push_back(compute(query, state, relevant, data.hint ? &*data.hint : nullptr));
    data.answer[place] = data.predictions.back().number = static_cast<int>(data.predictions.size()) - 1;
    return data.predictions.back();
}

Prediction Predictor::compute(const Query& query, StateData& state, const std::vector<Fault>& relevant, const ReadingHint* hint) const {
    const MeterProfile& meter = m_meters[static_cast<std::size_t>(query.meter)];
    MeterReading reading;
    if (query.what == Quantity::Residue) {
        const auto residue = square_residue(meter, state.solvers->circuit().netlist(relevant), query.red, query.black);
        reading.value = residue.volts;
        reading.ln_sigma = state.solvers->ac(meter.square_hertz, relevant)->impedance(query.red, query.black).real_ln_sigma;
    } else if (is_direct(query.what))
        reading = read_dc(*state.solvers->dc(relevant), meter, query.what, query.red, query.black, hint);
    else
        reading = read_ac(*state.solvers->ac(query.what == Quantity::Esr ? meter.esr_hertz : meter.farads_hertz, relevant), meter,
                          query.what, query.red, query.black);
    Prediction p;
    p.value = reading.value;
    p.over = reading.over;
    p.rising = reading.rising;
    p.conducting = reading.conducting;
    p.converged = reading.converged;
    p.failed_part = reading.failed_part;
    p.x = score_axis(query.what, reading.value);
    if (reading.alternate) p.alternate_x = score_axis(query.what, *reading.alternate);
    const double x_per_ln = query.what == Quantity::Ohms     ? reading.value / (reading.value + 0.1)
                            : query.what == Quantity::Esr    ? reading.value / (reading.value + 0.02)
                            : query.what == Quantity::Farads ? 1
                            : query.what == Quantity::Diode  ? reading.value
                                                             : 0;
    if (x_per_ln > 0) {
        double largest = 0;
        for (const auto& d : reading.by_part) largest = std::max(largest, std::fabs(d.change));
        for (const auto& d : reading.by_part)
            if (std::fabs(d.change) > kWorthSharing * largest) p.by_part.push_back({d.part, d.element, d.change * x_per_ln, d.sigma});
    }
    const bool plain = is_direct(query.what) && query.what != Quantity::Diode && reading.conducting.empty();
    const double model = std::hypot(reading.ln_sigma, meter.accuracy, plain ? kPlainShare : kModelShare);
    switch (query.what) {
    case Quantity::Ohms:
        p.sigma = std::hypot(model * reading.value, meter.residue) / (reading.value + 0.1);
        break;
    case Quantity::Esr:
        p.sigma = std::hypot(model * reading.value, meter.residue / 3) / (reading.value + 0.02);
        break;
    case Quantity::Farads:
        p.sigma = std::max(model, 0.03);
        break;
    case Quantity::Diode:
        p.sigma = std::hypot(reading.sigma(), 0.008, meter.accuracy / 2 * reading.value);
        break;
    case Quantity::Continuity:
        p.sigma = 0;
        break;
    case Quantity::Leakage:
        p.sigma = std::hypot(model, 0.2) * reading.value / (reading.value + kLeastLeakage) + 0.3;
        break;
    case Quantity::Residue:
        p.sigma = std::hypot(model * reading.value, 0.01 * meter.square_open_volts());
        break;
    }
    return p;
}

} // namespace ohmo
