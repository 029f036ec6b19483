// SPDX-License-Identifier: GPL-3.0-or-later
// A prediction depends only on faults whose part touches the galvanic island under the leads (found on the healthy board in that state), so
// it is remembered by that part of the fault set. When a fault joins islands, all faults count. For AC readings the coupling of windings to
// other islands is kept, but faults over there are taken as absent.
#include "readings/predictor.h"

#include "circuit/solver_store.h"
#include "circuit/square_wave.h"
#include "readings/reading_model.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <deque>
#include <map>
#include <unordered_map>

namespace ohmo {
namespace {

bool matters_for_ac(const Fault& f) { return f.mode != FaultMode::Dead && f.mode != FaultMode::Weak && f.mode != FaultMode::Intermittent; }

} // namespace

struct Predictor::StateData {
    int number = 0;
    BoardState state;
    std::vector<int> island; // by net, healthy
    std::optional<SolverStore> solvers;
};

// Every fault set asked for has a slot; sets that differ only in what the reading cannot see share one.
struct Predictor::QueryData {
    Query query;
    StateData* state = nullptr; // the part alone, or the board as it is
    std::vector<char> touches;  // by part: can its faults matter?
    std::vector<char> seen;     // by fault number: kUnasked, or the bits below
    std::vector<int> slot;      // by set, -1 not asked yet
    std::unordered_map<std::vector<int>, int, FaultSets::Hash> by_relevant;
    std::vector<std::vector<int>> relevant; // by slot
    std::vector<int> answer;                // by slot: number of the prediction, -1 before it is computed
    std::deque<Prediction> predictions;
    std::optional<ReadingHint> hint; // from the healthy board

    static constexpr char kUnasked = 0, kAsked = 1, kMatters = 2, kTouches = 4, kJoins = 8;
};

struct Predictor::Memory {
    FaultSets sets;
    std::vector<std::shared_ptr<StateData>> states;
    std::map<std::array<int, 6>, std::shared_ptr<QueryData>> queries; ///< by what, leads, part alone, meter, state
    std::size_t solved = 0;
    BehaviourModel behaviour;                      ///< refers to the predictor's board
    std::vector<std::optional<Behaviour>> behaves; ///< by set
    std::unique_ptr<FiguresModel> figures_model;   ///< made when first asked for; refers to the predictor's board
    std::map<SetId, Figures> figures;

    Memory(const Board& board, const BoardRoles& roles) : behaviour(board, roles) {}
};

Predictor::Predictor(const Board& board, std::vector<MeterProfile> meters, std::shared_ptr<const BoardRoles> roles)
    : m_board(board), m_roles(roles ? std::move(roles) : std::make_shared<const BoardRoles>(find_roles(board))),
      m_meters(std::move(meters)), m_memory(std::make_unique<Memory>(m_board, *m_roles)) {
    if (m_meters.empty()) m_meters.emplace_back();
}

Predictor::~Predictor() = default;

std::size_t Predictor::solved() const {
    const std::lock_guard guard(m_lock);
    return m_memory->solved;
}

Predictor::StateData& Predictor::state_data(const BoardState& state) const {
    for (const auto& s : m_memory->states)
        if (s->state == state) return *s;
    auto data = std::make_shared<StateData>();
    data->number = static_cast<int>(m_memory->states.size());
    data->state = state;
    data->solvers.emplace(std::make_shared<const BoardCircuit>(m_board, state));
    data->island.resize(m_board.nets.size());
    for (std::size_t n = 0; n < m_board.nets.size(); ++n) data->island[n] = data->solvers->circuit().healthy().island(static_cast<int>(n));
    m_memory->states.push_back(data);
    return *m_memory->states.back();
}

Predictor::QueryData& Predictor::query_data(const Query& query) const {
    StateData& state = state_data(query.state);
    auto& kept = m_memory->queries[{static_cast<int>(query.what), query.red, query.black, query.alone, query.meter, state.number}];
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
    return m_memory->sets.id(faults);
}

std::vector<SetId> Predictor::ids(const std::vector<Scenario>& scenarios) const {
    const std::lock_guard guard(m_lock);
    std::vector<SetId> out;
    out.reserve(scenarios.size());
    for (const auto& s : scenarios) out.push_back(m_memory->sets.id(s.faults()));
    return out;
}

SetId Predictor::without(SetId set, const std::set<int>& parts) const {
    const std::lock_guard guard(m_lock);
    return m_memory->sets.without(set, parts);
}

namespace {

std::vector<const std::vector<int>*> each(const FaultSets& all, const std::vector<SetId>& sets, const std::vector<int>& (FaultSets::*what)(SetId) const) {
    std::vector<const std::vector<int>*> out;
    out.reserve(sets.size());
    for (SetId s : sets) out.push_back(&(all.*what)(s));
    return out;
}

} // namespace

std::vector<const std::vector<int>*> Predictor::parts(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    return each(m_memory->sets, sets, &FaultSets::parts);
}

std::vector<const std::vector<int>*> Predictor::members(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    return each(m_memory->sets, sets, &FaultSets::members);
}

Fault Predictor::fault(int number) const {
    const std::lock_guard guard(m_lock);
    return m_memory->sets.fault(number);
}

Prediction Predictor::predict(const Query& query, const std::vector<Fault>& faults) const {
    const std::lock_guard guard(m_lock);
    return computed(query_data(query), m_memory->sets.id(faults));
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
    for (const auto& faults : fault_sets) out.push_back(&computed(data, m_memory->sets.id(faults)));
    return out;
}

std::vector<int> Predictor::remembered(const Query& query, const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    QueryData& data = query_data(query);
    std::vector<int> out;
    out.reserve(sets.size());
    for (SetId set : sets) out.push_back(data.answer[static_cast<std::size_t>(slot_of(data, set))]);
    return out;
}

Behaviour Predictor::behaviour(SetId set) const {
    const std::lock_guard guard(m_lock);
    if (m_memory->behaves.size() < m_memory->sets.size()) m_memory->behaves.resize(m_memory->sets.size());
    auto& kept = m_memory->behaves[static_cast<std::size_t>(set)];
    if (!kept) kept = m_memory->behaviour.judge(m_memory->sets.faults(set));
    return *kept;
}

const Figures& Predictor::figures(SetId set) const {
    const Behaviour behaves = behaviour(set);
    const std::lock_guard guard(m_lock);
    const auto found = m_memory->figures.find(set);
    if (found != m_memory->figures.end()) return found->second;
    if (!m_memory->figures_model) m_memory->figures_model = std::make_unique<FiguresModel>(m_board, *m_roles);
    return m_memory->figures.emplace(set, m_memory->figures_model->of(m_memory->sets.faults(set), behaves)).first->second;
}

std::vector<std::optional<Behaviour>> Predictor::remembered_behaviour(const std::vector<SetId>& sets) const {
    const std::lock_guard guard(m_lock);
    m_memory->behaves.resize(m_memory->sets.size());
    std::vector<std::optional<Behaviour>> out;
    out.reserve(sets.size());
    for (SetId set : sets) out.push_back(m_memory->behaves[static_cast<std::size_t>(set)]);
    return out;
}

// A part on the bench is a board on which everything else is lifted.
BoardState Predictor::alone_state(int part) const {
    BoardState alone;
    alone.lifted.assign(m_board.parts.size(), 1);
    alone.lifted[static_cast<std::size_t>(part)] = 0;
    return alone;
}

int Predictor::slot_of(QueryData& data, SetId set) const {
    if (data.slot.size() < m_memory->sets.size()) data.slot.resize(m_memory->sets.size(), -1);
    int& slot = data.slot[static_cast<std::size_t>(set)];
    if (slot >= 0) return slot;
    if (data.seen.size() < m_memory->sets.fault_count()) data.seen.resize(m_memory->sets.fault_count(), QueryData::kUnasked);
    const auto& members = m_memory->sets.members(set);
    bool joined = false;
    for (int n : members) {
        char& bits = data.seen[static_cast<std::size_t>(n)];
        if (bits == QueryData::kUnasked) {
            const Fault& f = m_memory->sets.fault(n);
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
    return slot = at->second;
}

const Prediction& Predictor::computed(QueryData& data, SetId set) const {
    const auto slot = static_cast<std::size_t>(slot_of(data, set));
    if (data.answer[slot] >= 0) return data.predictions[static_cast<std::size_t>(data.answer[slot])];
    const Query& query = data.query;
    ++m_memory->solved;
    StateData& state = *data.state;
    if (is_direct(query.what) && !data.hint) {
        data.hint.emplace();
        const auto& meter = m_meters[static_cast<std::size_t>(query.meter)];
        read_dc(state.solvers->circuit().healthy(), meter, query.what, query.red, query.black, nullptr, &*data.hint);
    }
    std::vector<Fault> relevant;
    for (int n : data.relevant[slot]) relevant.push_back(m_memory->sets.fault(n));
    std::sort(relevant.begin(), relevant.end());
    data.predictions.push_back(compute(query, state, relevant, data.hint ? &*data.hint : nullptr));
    data.answer[slot] = data.predictions.back().number = static_cast<int>(data.predictions.size()) - 1;
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
    return prediction_of(m_board.practice(), query.what, meter, reading);
}

} // namespace ohmo
