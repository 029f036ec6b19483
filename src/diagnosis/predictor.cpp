// SPDX-License-Identifier: GPL-3.0-or-later
// A prediction depends only on faults whose part touches the galvanic island under the leads (found on the healthy board in that state), so
// it is remembered by that part of the fault set. When a fault joins islands, all faults count. For AC readings the coupling of windings to
// other islands is kept, but faults over there are taken as absent.
#include "diagnosis/predictor.h"

#include "circuit/board_circuit.h"
#include "circuit/square_wave.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kMeterShare = 0.012;  // accuracy of the meter as a share of the reading
constexpr double kLeadOhms = 0.05;     // what nulling leaves
constexpr double kModelShare = 0.02;   // what the models leave out
constexpr double kLeastLeakage = 1e-8; // A: damp and flux

bool joins_islands(const Board& board, const Fault& f) {
    if (f.mode == FaultMode::Breakdown || f.mode == FaultMode::Carbon) return true;
    return board.part(f.part).kind == PartKind::YCapacitor && (f.mode == FaultMode::Short || f.mode == FaultMode::Leaky);
}

bool matters_for_ac(const Fault& f) { return f.mode != FaultMode::Dead && f.mode != FaultMode::Weak && f.mode != FaultMode::Intermittent; }

} // namespace

struct Predictor::StateData {
    BoardState state;
    std::vector<int> island; // by net, healthy
    std::shared_ptr<const BoardCircuit> circuit;
    std::map<std::vector<Fault>, std::shared_ptr<const DcSolver>> dc;
    std::map<std::pair<double, std::vector<Fault>>, std::shared_ptr<const AcSolver>> ac;

    const DcSolver& dc_for(const std::vector<Fault>& faults) {
        auto& kept = dc[faults];
        if (!kept) kept = std::make_shared<const DcSolver>(circuit->dc(faults));
        return *kept;
    }
    const AcSolver& ac_for(double hertz, const std::vector<Fault>& faults) {
        auto& healthy = ac[{hertz, {}}];
        if (!healthy) healthy = std::make_shared<const AcSolver>(circuit->ac({}, hertz));
        auto& kept = ac[{hertz, faults}];
        if (!kept) kept = std::make_shared<const AcSolver>(circuit->ac(faults, *healthy));
        return *kept;
    }
};

struct Predictor::QueryData {
    Query query;
    std::vector<char> touches; // by part: can its faults matter?
    std::map<std::vector<Fault>, Prediction> memo;
    std::optional<ReadingHint> hint; // from the healthy board
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

Predictor::Predictor(const Board& board, std::vector<MeterProfile> meters)
    : m_board(board), m_meters(std::move(meters)), m_behaviour(m_board) {
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
    data->state = state;
    data->circuit = std::make_shared<const BoardCircuit>(m_board, state);
    data->island.resize(m_board.nets.size());
    for (std::size_t n = 0; n < m_board.nets.size(); ++n) data->island[n] = data->circuit->healthy().island(static_cast<int>(n));
    m_states.push_back(data);
    return *m_states.back();
}

Predictor::QueryData& Predictor::query_data(const Query& query) const {
    for (const auto& q : m_queries)
        if (q->query == query) return *q;
    auto data = std::make_shared<QueryData>();
    data->query = query;
    data->touches.assign(m_board.parts.size(), 0);
    const auto& islands = state_data(query.state).island;
    const int red = islands[static_cast<std::size_t>(query.red)], black = islands[static_cast<std::size_t>(query.black)];
    for (std::size_t i = 0; i < m_board.parts.size(); ++i) {
        if (query.alone >= 0) {
            data->touches[i] = static_cast<int>(i) == query.alone;
            continue;
        }
        if (query.state.is_lifted(static_cast<int>(i))) continue;
        for (const auto& pin : m_board.parts[i].pins) {
            const int at = islands[static_cast<std::size_t>(pin.id)];
            if (at == red || at == black) data->touches[i] = 1;
        }
    }
    m_queries.push_back(data);
    return *m_queries.back();
}

Prediction Predictor::predict(const Query& query, const std::vector<Fault>& faults) const {
    const std::lock_guard guard(m_lock);
    return remembered(query_data(query), faults);
}

std::vector<const Prediction*> Predictor::predict_all(const Query& query, const std::vector<std::vector<Fault>>& fault_sets) const {
    const std::lock_guard guard(m_lock);
    QueryData& data = query_data(query);
    std::vector<const Prediction*> out;
    out.reserve(fault_sets.size());
    for (const auto& faults : fault_sets) out.push_back(&remembered(data, faults));
    return out;
}

Behaviour Predictor::behaviour(const Scenario& scenario, const std::set<int>& renewed) const {
    const std::lock_guard guard(m_lock);
    if (renewed.empty()) return m_behaviour.judge(scenario);
    Scenario left = scenario;
    std::erase_if(left.steps, [&](const Step& s) { return renewed.contains(s.fault.part); });
    return m_behaviour.judge(left);
}

// A part on the bench is a board on which everything else is lifted.
BoardState Predictor::alone_state(int part) const {
    BoardState alone;
    alone.lifted.assign(m_board.parts.size(), 1);
    alone.lifted[static_cast<std::size_t>(part)] = 0;
    return alone;
}

const Prediction& Predictor::remembered(QueryData& data, const std::vector<Fault>& faults) const {
    const Query& query = data.query;
    const bool dc = is_direct(query.what);
    const bool joined =
        query.alone < 0 && std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return joins_islands(m_board, f); });
    std::vector<Fault> relevant;
    for (const auto& f : faults) {
        if (!joined && !data.touches[static_cast<std::size_t>(f.part)]) continue;
        if (dc ? changes_dc(m_board, f) : matters_for_ac(f)) relevant.push_back(f);
    }
    std::sort(relevant.begin(), relevant.end());
    if (const auto known = data.memo.find(relevant); known != data.memo.end()) return known->second;
    ++m_solved;
    StateData& state = state_data(query.alone >= 0 ? alone_state(query.alone) : query.state);
    if (dc && !data.hint) {
        data.hint.emplace();
        const auto& meter = m_meters[static_cast<std::size_t>(query.meter)];
        read_dc(state.circuit->healthy(), meter, query.what, query.red, query.black, nullptr, &*data.hint);
    }
    Prediction p = compute(query, state, relevant, data.hint ? &*data.hint : nullptr);
    return data.memo.emplace(std::move(relevant), std::move(p)).first->second;
}

Prediction Predictor::compute(const Query& query, StateData& state, const std::vector<Fault>& relevant, const ReadingHint* hint) const {
    const MeterProfile& meter = m_meters[static_cast<std::size_t>(query.meter)];
    MeterReading reading;
    if (query.what == Quantity::Residue) {
        const auto residue = square_residue(meter, state.circuit->netlist(relevant), query.red, query.black);
        reading.value = residue.volts;
        reading.ln_sigma = state.ac_for(meter.square_hertz, relevant).impedance(query.red, query.black).real_ln_sigma;
    } else if (is_direct(query.what))
        reading = read_dc(state.dc_for(relevant), meter, query.what, query.red, query.black, hint);
    else
        reading = read_ac(state.ac_for(query.what == Quantity::Esr ? meter.esr_hertz : meter.farads_hertz, relevant), meter, query.what,
                          query.red, query.black);
    Prediction p;
    p.value = reading.value;
    p.over = reading.over;
    p.rising = reading.rising;
    p.conducting = reading.conducting;
    p.converged = reading.converged;
    p.failed_part = reading.failed_part;
    p.x = score_axis(query.what, reading.value);
    if (reading.alternate) p.alternate_x = score_axis(query.what, *reading.alternate);
    const double x_per_ln = query.what == Quantity::Ohms    ? reading.value / (reading.value + 0.1)
                            : query.what == Quantity::Diode ? reading.value
                                                            : 0;
    if (x_per_ln > 0)
        for (const auto& [part, change] : reading.by_part) p.by_part.emplace_back(part, change * x_per_ln);
    const double model = std::hypot(reading.ln_sigma, kMeterShare, kModelShare);
    switch (query.what) {
    case Quantity::Ohms:
        p.sigma = std::hypot(model * reading.value, kLeadOhms) / (reading.value + 0.1);
        break;
    case Quantity::Esr:
        p.sigma = std::hypot(model * reading.value, kLeadOhms / 3) / (reading.value + 0.02);
        break;
    case Quantity::Farads:
        p.sigma = std::max(model, 0.03);
        break;
    case Quantity::Diode:
        p.sigma = std::hypot(reading.sigma(), 0.008);
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
