// SPDX-License-Identifier: GPL-3.0-or-later
// Method: the transient solver on what hangs together with the bulk capacitor without passing a capacitor or the core of a transformer,
// the line behind the resistance of wall and wiring at its crest. Windings stand alone at 3 % of their inductance, because the core
// saturates at once; inrush thermistors are hot. A part that opens under current holds an arc of about 25 V, two breakdowns against each
// other, until the current falls below 1 A; fuses quench. Not a start-up or switching model: every healthy switch is off. Limits are in
// circuit/stress. Fails when the board has no bulk capacitor on mains.
#include "circuit/surge.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <set>

namespace ohmo {
namespace {

constexpr double kLeastHenry = 2e-7;
constexpr double kLeastFarads = 1e-6; // less holds millijoules and only rings with the chokes
constexpr double kThreshold = 1e-5, kNewton = 1e-6;

Problem failed(std::string place, std::string what) {
    return {ProblemKind::SolveFailed, std::move(place), std::move(what), "surge", 0, false};
}

using Key = std::pair<int, int>; // part, ordinal within the part

template <class Elements>
std::vector<Key> keys_of(const Elements& elements) {
    std::map<int, int> seen;
    std::vector<Key> keys;
    for (const auto& e : elements) keys.emplace_back(e.part, seen[e.part]++);
    return keys;
}

// Nodes that hang together with `reference` through anything that carries direct current.
std::vector<char> reached(const Netlist& net, int reference, int mains_a, int mains_b) {
    std::vector<std::pair<int, int>> edges;
    for (const auto& r : net.resistors)
        if (r.ohms < kOpenOhms / 2) edges.emplace_back(r.a, r.b);
    for (const auto& j : net.junctions) edges.emplace_back(j.anode, j.cathode);
    for (const auto& q : net.bipolars) {
        edges.emplace_back(q.b, q.e);
        edges.emplace_back(q.b, q.c);
    }
    for (const auto& m : net.channels) {
        edges.emplace_back(m.d, m.s);
        edges.emplace_back(m.g, m.s);
    }
    for (const auto& core : net.cores)
        for (const auto& w : core.windings)
            if (w.ohms < kOpenOhms / 2) edges.emplace_back(w.a, w.b);
    if (mains_a >= 0) edges.emplace_back(mains_a, mains_b);
    std::vector<char> inside(static_cast<std::size_t>(net.nodes), 0);
    inside[static_cast<std::size_t>(reference)] = 1;
    for (bool grown = true; grown;) {
        grown = false;
        for (auto [a, b] : edges) {
            char &p = inside[static_cast<std::size_t>(a)], &q = inside[static_cast<std::size_t>(b)];
            if (p != q) {
                p = q = 1;
                grown = true;
            }
        }
    }
    return inside;
}

} // namespace

SurgeBoard::SurgeBoard(const Board& board, const BoardRoles& roles) : m_board(board), m_circuit(board, {}), m_bulk(roles.bulk) {
    const bool dropped = !roles.droppers.empty();
    if (board.mains)
        m_bulk_volts = dropped ? running_bulk_volts(board, roles) : std::numbers::sqrt2 * board.mains->volts - board.practice().bridge_drop_volts;
    if (roles.inlet.size() < 2) return;
    m_mains_a = roles.inlet[0];
    m_mains_b = roles.inlet[1];
}

class SurgeRun {
public:
    SurgeRun(const SurgeBoard& on, const SurgeOptions& options, std::span<const Fault> faults)
        : m_on(on), m_options(options), m_faults(faults.begin(), faults.end()), m_book(on.m_board) {}

    bool possible() const { return !m_on.m_bulk.empty() && m_on.m_board.mains.has_value(); }

    SurgeBoard::Start start() const {
        SurgeBoard::Start out;
        out.net = elements();
        for (const auto& c : out.net.capacitors) {
            const auto& part = m_on.m_board.part(c.part);
            const bool supply = part.stage == "control" && is_wet_or_solid_electrolytic(part.kind);
            out.state.capacitor_volts.push_back(part.stage == "bulk" ? m_on.m_bulk_volts
                                                : supply             ? m_on.m_board.practice().running_supply_volts
                                                                     : 0.0);
        }
        // Bulk capacitors in series (a doubler) share the volts: each takes its part of the way between the outer ends.
        const int stacked = series_count();
        if (stacked > 1)
            for (std::size_t k = 0; k < out.net.capacitors.size(); ++k)
                if (std::find(m_on.m_bulk.begin(), m_on.m_bulk.end(), out.net.capacitors[k].part) != m_on.m_bulk.end())
                    out.state.capacitor_volts[k] /= stacked;
        out.sources = source();
        return out;
    }

    Result<SurgeResult> run(std::span<const SurgeEvent> events, const CancelToken& cancel) {
        auto begin = start();
        restart(std::move(begin.net), std::move(begin.state), 0);
        SurgeResult result;
        const double before = bulk_joules();
        double lowest = before;
        std::size_t next = 0;
        const double last_half_cycle = m_options.seconds - 0.5 / m_on.m_board.mains->hertz;
        bool marked = false;
        while (m_transient->now() < m_options.seconds * (1 - 1e-9)) {
            if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
            const double then = m_transient->now();
            const double until = next < events.size() ? std::clamp(events[next].at, then + 1e-9, m_options.seconds) : m_options.seconds;
            const auto stepped = m_transient->step(until);
            if (!stepped) {
                const auto& place = stepped.problem().place;
                return failed(place.empty() ? place : m_on.m_board.part(std::stoi(place)).ref, stepped.problem().found);
            }
            m_book.record(*m_transient, m_faults, *stepped - then, *stepped);
            lowest = std::min(lowest, bulk_joules());
            if (!marked && *stepped >= last_half_cycle) {
                m_book.mark(*stepped);
                marked = true;
            }
            for (std::size_t k = 0; k < m_transient->netlist().capacitors.size(); ++k)
                if (m_transient->netlist().capacitors[k].part == m_on.m_bulk.front())
                    result.peak_amps = std::max(result.peak_amps, std::fabs(m_transient->capacitor_amps(k)));
            bool changed = quench();
            for (; next < events.size() && events[next].at <= *stepped + 1e-12; ++next) {
                happen(events[next].fault);
                changed = true;
            }
            if (changed) rebuild();
        }
        if (m_options.sustain) m_book.sustain(m_options.seconds, next < events.size() ? std::optional(events[next].at) : std::nullopt);
        result.bulk_joules_dumped = before - lowest;
        result.stresses = m_book.take();
        return result;
    }

private:
    // How many bulk capacitors lie one on the other between the ends of the bridge.
    int series_count() const {
        std::set<int> plus, minus;
        for (int i : m_on.m_bulk) {
            plus.insert(m_on.m_board.part(i).net("+"));
            minus.insert(m_on.m_board.part(i).net("-"));
        }
        int chained = 1;
        for (int n : plus) chained += minus.contains(n) ? 1 : 0;
        return chained;
    }

    std::vector<Source> source() const {
        if (m_on.m_mains_a < 0) return {};
        const auto& mains = *m_on.m_board.mains;
        return {{m_on.m_mains_a, m_on.m_mains_b, m_options.mains_ohms, 0, std::numbers::sqrt2 * mains.volts, mains.hertz,
                 std::numbers::pi / 2}};
    }

    Netlist elements() const {
        Netlist all = m_on.m_circuit.netlist(m_faults);
        for (int part : m_arcs) {
            const auto& p = m_on.m_board.part(part);
            const int middle = all.nodes++, a = p.pins[0].id, b = p.pins[1].id;
            for (int end : {a, b}) all.junctions.push_back({middle, end, 1e-12, 1, m_options.arc_volts, 0.1, part, 0.02, 20});
        }
        const auto inside = reached(all, m_on.m_board.part(m_on.m_bulk.front()).net("-"), m_on.m_mains_a, m_on.m_mains_b);
        const auto in = [&](int n) { return inside[static_cast<std::size_t>(n)] != 0; };
        std::erase_if(all.resistors, [&](const Resistive& r) { return !in(r.a) || !in(r.b); });
        std::erase_if(all.junctions, [&](const Junction& j) { return !in(j.anode) || !in(j.cathode); });
        std::erase_if(all.bipolars, [&](const Bipolar& q) { return !in(q.b) || !in(q.c) || !in(q.e); });
        std::erase_if(all.channels, [&](const Channel& m) { return !in(m.d) || !in(m.g) || !in(m.s); });
        std::erase_if(all.capacitors, [&](const Capacitive& c) {
            const auto kind = m_on.m_board.part(c.part).kind;
            const bool gate = kind == PartKind::Mosfet || kind == PartKind::Igbt;
            return !in(c.a) || !in(c.b) || c.a == c.b || (!gate && c.farads < kLeastFarads);
        });
        for (auto& r : all.resistors)
            if (m_on.m_board.part(r.part).kind == PartKind::Thermistor && r.ohms < kOpenOhms / 2)
                r.ohms *= m_on.m_board.practice().hot_thermistor_share;
        std::vector<WindingSet> alone;
        for (const auto& core : all.cores)
            for (const auto& w : core.windings)
                if (in(w.a) && in(w.b) && w.a != w.b)
                    alone.push_back({{{w.a, w.b, std::max(m_on.m_board.practice().saturated_share * w.henry, kLeastHenry), w.ohms}},
                                     0,
                                     core.ln_sigma,
                                     core.henry_ln_sigma,
                                     core.part});
        all.cores = std::move(alone);
        return all;
    }

    void restart(Netlist net, TransientState state, double now) {
        TransientOptions options;
        options.first_step = m_options.first_step;
        options.longest_step = m_options.longest_step;
        options.shortest_step = m_options.first_step / 256;
        options.relative = m_options.relative;
        options.volts = m_options.volts;
        options.amps = m_options.amps;
        options.newton = kNewton;
        options.threshold = kThreshold;
        m_transient = std::make_unique<Transient>(std::move(net), source(), options, std::move(state), now);
        m_book.forget_before();
    }

    // New elements after a part changed; charges and currents stay.
    void rebuild() {
        std::map<Key, double> charges;
        std::map<Key, std::vector<double>> currents;
        const auto& old = m_transient->netlist();
        const auto old_capacitors = keys_of(old.capacitors), old_cores = keys_of(old.cores);
        for (std::size_t i = 0; i < old_capacitors.size(); ++i) charges[old_capacitors[i]] = m_transient->state().capacitor_volts[i];
        for (std::size_t i = 0; i < old_cores.size(); ++i) currents[old_cores[i]] = m_transient->state().winding_amps[i];
        Netlist net = elements();
        TransientState state;
        for (const auto& key : keys_of(net.capacitors)) {
            const auto found = charges.find(key);
            state.capacitor_volts.push_back(found == charges.end() ? 0.0 : found->second);
        }
        for (const auto& key : keys_of(net.cores)) {
            const auto found = currents.find(key);
            state.winding_amps.push_back(found == currents.end() ? std::vector<double>{0.0} : found->second);
        }
        restart(std::move(net), std::move(state), m_transient->now());
    }

    void happen(const Fault& f) {
        if (f.mode == FaultMode::Open && is_resistor_like(m_on.m_board.part(f.part).kind)) m_arcs.insert(f.part);
        std::erase_if(m_faults, [&](const Fault& old) {
            return old.part == f.part && (old.mode == FaultMode::Short || (f.mode == FaultMode::Short && old.mode == FaultMode::DsShort));
        });
        m_faults.push_back(f);
    }

    // Arcs whose current has fallen go out. True when one did.
    bool quench() {
        bool changed = false;
        const auto& net = m_transient->netlist();
        for (std::size_t k = 0; k < net.junctions.size(); ++k) {
            const int part = net.junctions[k].part;
            if (!m_arcs.contains(part) || std::fabs(m_transient->junction_amps(k)) >= m_options.arc_least_amps) continue;
            m_arcs.erase(part);
            changed = true;
        }
        return changed;
    }

    double bulk_joules() const {
        double joules = 0;
        const auto& net = m_transient->netlist();
        for (std::size_t k = 0; k < net.capacitors.size(); ++k)
            if (std::find(m_on.m_bulk.begin(), m_on.m_bulk.end(), net.capacitors[k].part) != m_on.m_bulk.end())
                joules += 0.5 * net.capacitors[k].farads * std::pow(m_transient->state().capacitor_volts[k], 2);
        return joules;
    }

    const SurgeBoard& m_on;
    const SurgeOptions& m_options;
    std::vector<Fault> m_faults;
    std::set<int> m_arcs; ///< parts that have opened and still carry current
    StressBook m_book;
    std::unique_ptr<Transient> m_transient;
};

Result<SurgeResult> SurgeBoard::run(std::span<const Fault> faults, std::span<const SurgeEvent> events, const SurgeOptions& options,
                                    const CancelToken& cancel) const {
    SurgeRun run(*this, options, faults);
    if (!run.possible()) return failed({}, "no bulk capacitor on mains");
    return run.run(events, cancel);
}

Result<SurgeBoard::Start> SurgeBoard::start(std::span<const Fault> faults, const SurgeOptions& options) const {
    const SurgeRun run(*this, options, faults);
    if (!run.possible()) return failed({}, "no bulk capacitor on mains");
    return run.start();
}

} // namespace ohmo
