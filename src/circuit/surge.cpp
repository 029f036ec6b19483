// SPDX-License-Identifier: GPL-3.0-or-later
// Method: nodal analysis of the galvanic island of the bulk capacitor, backward Euler with growing steps, junctions piecewise linear (0.8 V
// and 30 mohm on, 1e8 ohm off, Zeners at their voltage), windings at 3 % of their inductance because the core saturates at once. A part
// that opens under current holds an arc of 25 V until the current falls below 1 A; fuses quench. Limits: melting I2t of fuses 15 In^2
// (time-lag) or 2 In^2 s (quick); resistor pulses 0.25 J per rated watt, fusible 0.12; rectifiers IFSM^2 x 5 ms (data-sheet convention for
// a 10 ms half sine) with IFSM = 30 times the rated current; gates 45 V; logic pins 0.5 A; electrolytics 1.25 times rated volts. Apart from
// the rectifier convention: common practice, no source, hence the wide spreads. Fails when the board has no bulk capacitor. Not a start-up
// or switching model: every healthy switch is off.
#include "circuit/surge.h"

#include "board/nominal.h"

#include <Eigen/Dense>

#include <algorithm>
#include <cmath>
#include <map>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kHotThermistor = 0.06; // share of the cold resistance while the supply runs

struct Run {
    const Board& board;
    const SurgeOptions& options;
    Netlist net;
    std::vector<int> row; // node -> unknown, -1 outside the island, 0..m-1; reference has -2
    int unknowns = 0;
    std::vector<double> cap_volts;
    std::vector<std::vector<double>> amps; // windings
    std::vector<double> junction_amps, resistor_amps;
    std::vector<int> junction_state; // 0 off, 1 on, -1 breakdown
    std::map<int, double> arc_ohms;  // part -> present arc resistance
    int mains_a = -1, mains_b = -1;
    Eigen::VectorXd volts;
    Eigen::LLT<Eigen::MatrixXd>
        factor;              // of the conductances; they change with the step, a junction's state, an arc or a part, not at every step
    double factored_dt = -1; // step the factor belongs to; -1: stale

    double at(int node) const { return row[static_cast<std::size_t>(node)] >= 0 ? volts[row[static_cast<std::size_t>(node)]] : 0.0; }
    bool inside(int node) const { return row[static_cast<std::size_t>(node)] != -1; }
};

using Key = std::pair<int, int>; // part, ordinal within the part

template <class Elements>
std::vector<Key> keys_of(const Elements& elements) {
    std::map<int, int> seen;
    std::vector<Key> keys;
    for (const auto& e : elements) keys.emplace_back(e.part, seen[e.part]++);
    return keys;
}

void find_mains(Run& run) {
    for (const auto& part : run.board.parts) {
        if (part.stage != "mains-in" || part.kind != PartKind::Connector) continue;
        const auto pairs = part.pairs();
        if (pairs.size() < 2) continue;
        run.mains_a = pairs[0].first->id;
        run.mains_b = pairs[1].first->id;
        return;
    }
}

void choose_nodes(Run& run, int reference) {
    run.row.assign(static_cast<std::size_t>(run.net.nodes), -1);
    std::vector<std::pair<int, int>> edges;
    for (const auto& r : run.net.resistors)
        if (r.ohms < 5e8 || run.arc_ohms.contains(r.part)) edges.emplace_back(r.a, r.b);
    for (const auto& j : run.net.junctions) edges.emplace_back(j.anode, j.cathode);
    for (const auto& core : run.net.cores)
        for (const auto& w : core.windings) edges.emplace_back(w.a, w.b);
    if (run.mains_a >= 0) edges.emplace_back(run.mains_a, run.mains_b);
    run.row[static_cast<std::size_t>(reference)] = -2;
    run.unknowns = 0;
    for (bool grown = true; grown;) {
        grown = false;
        for (auto [a, b] : edges)
            for (auto [p, q] : {std::pair(a, b), std::pair(b, a)})
                if (p >= 0 && q >= 0 && run.inside(p) && !run.inside(q)) {
                    run.row[static_cast<std::size_t>(q)] = run.unknowns++;
                    grown = true;
                }
    }
}

// Rebuilds the elements after a part changed; charges and currents stay.
void rebuild(Run& run, std::span<const Fault> faults, int reference) {
    std::map<Key, double> charges;
    std::map<Key, std::vector<double>> currents;
    const auto old_caps = keys_of(run.net.capacitors);
    for (std::size_t i = 0; i < old_caps.size(); ++i) charges[old_caps[i]] = run.cap_volts[i];
    const auto old_cores = keys_of(run.net.cores);
    for (std::size_t i = 0; i < old_cores.size(); ++i) currents[old_cores[i]] = run.amps[i];

    run.net = expand(run.board, {}, faults);
    run.factored_dt = -1;
    for (auto& r : run.net.resistors)
        if (run.board.part(r.part).kind == PartKind::Thermistor && r.ohms < kOpenOhms / 2) r.ohms *= kHotThermistor;
    choose_nodes(run, reference);
    run.cap_volts.assign(run.net.capacitors.size(), 0.0);
    const auto caps = keys_of(run.net.capacitors);
    for (std::size_t i = 0; i < caps.size(); ++i)
        if (const auto old = charges.find(caps[i]); old != charges.end()) run.cap_volts[i] = old->second;
    run.amps.clear();
    const auto cores = keys_of(run.net.cores);
    for (std::size_t i = 0; i < cores.size(); ++i) {
        const auto old = currents.find(cores[i]);
        run.amps.push_back(old != currents.end() ? old->second : std::vector<double>(run.net.cores[i].windings.size(), 0.0));
    }
    run.junction_state.assign(run.net.junctions.size(), 0);
    run.junction_amps.assign(run.net.junctions.size(), 0.0);
    run.resistor_amps.assign(run.net.resistors.size(), 0.0);
}

double resistor_ohms(const Run& run, const Resistive& r) {
    if (r.ohms < kOpenOhms / 2) return r.ohms;
    const auto arc = run.arc_ohms.find(r.part);
    return arc == run.arc_ohms.end() ? r.ohms : arc->second;
}

bool step(Run& run, double dt, double mains_volts) {
    const auto m = static_cast<Eigen::Index>(run.unknowns);
    for (int pass = 0; pass < 30; ++pass) {
        const bool refactor = run.factored_dt != dt;
        Eigen::MatrixXd g;
        if (refactor) g = Eigen::MatrixXd::Zero(m, m);
        Eigen::VectorXd rhs = Eigen::VectorXd::Zero(m);
        // A conductance with a source in series: current a->b is s (va - vb - e).
        const auto stamp = [&](int a, int b, double s, double e) {
            if (a < 0 || b < 0 || !run.inside(a) || !run.inside(b)) return;
            const int i = run.row[static_cast<std::size_t>(a)], k = run.row[static_cast<std::size_t>(b)];
            if (i >= 0) rhs[i] += s * e;
            if (k >= 0) rhs[k] -= s * e;
            if (!refactor) return;
            if (i >= 0) g(i, i) += s;
            if (k >= 0) g(k, k) += s;
            if (i >= 0 && k >= 0) {
                g(i, k) -= s;
                g(k, i) -= s;
            }
        };
        if (refactor) {
            g.diagonal().array() += 1e-9;
            for (const auto& r : run.net.resistors) stamp(r.a, r.b, 1 / resistor_ohms(run, r), 0);
        }
        for (std::size_t k = 0; k < run.net.junctions.size(); ++k) {
            const auto& j = run.net.junctions[k];
            const int s = run.junction_state[k];
            stamp(j.anode, j.cathode, s == 0 ? 1e-8 : s > 0 ? 33.0 : 1.0, s == 0 ? 0.0 : s > 0 ? 0.8 : -j.bv);
        }
        for (std::size_t k = 0; k < run.net.capacitors.size(); ++k) {
            const auto& c = run.net.capacitors[k];
            stamp(c.a, c.b, 1 / (c.esr + dt / c.farads), run.cap_volts[k]);
        }
        for (std::size_t c = 0; c < run.net.cores.size(); ++c)
            for (std::size_t w = 0; w < run.net.cores[c].windings.size(); ++w) {
                const auto& wind = run.net.cores[c].windings[w];
                const double l = std::max(0.03 * wind.henry, 2e-7) / dt;
                stamp(wind.a, wind.b, 1 / (std::max(wind.ohms, 1e-3) + l), -l * run.amps[c][w]);
            }
        if (run.mains_a >= 0) stamp(run.mains_a, run.mains_b, 1 / run.options.mains_ohms, mains_volts);
        // Every stamp is a conductance with a source in series, so the matrix is symmetric and positive definite.
        if (refactor) run.factor.compute(g);
        run.factored_dt = dt;
        run.volts = run.factor.solve(rhs);
        if (!run.volts.allFinite()) return false;
        bool same = true;
        for (std::size_t k = 0; k < run.net.junctions.size(); ++k) {
            const auto& j = run.net.junctions[k];
            if (!run.inside(j.anode) || !run.inside(j.cathode)) continue;
            const double v = run.at(j.anode) - run.at(j.cathode);
            const int wanted = v > 0.8 ? 1 : (j.bv > 0 && v < -j.bv) ? -1 : 0;
            if (wanted != run.junction_state[k]) {
                run.junction_state[k] = wanted;
                run.factored_dt = -1;
                same = false;
            }
        }
        if (same || pass == 29) break; // an undecided junction at its threshold carries next to nothing
    }
    for (std::size_t k = 0; k < run.net.capacitors.size(); ++k) {
        const auto& c = run.net.capacitors[k];
        if (!run.inside(c.a) || !run.inside(c.b)) continue;
        const double i = (run.at(c.a) - run.at(c.b) - run.cap_volts[k]) / (c.esr + dt / c.farads);
        run.cap_volts[k] += i * dt / c.farads;
    }
    for (std::size_t c = 0; c < run.net.cores.size(); ++c)
        for (std::size_t w = 0; w < run.net.cores[c].windings.size(); ++w) {
            const auto& wind = run.net.cores[c].windings[w];
            if (!run.inside(wind.a) || !run.inside(wind.b)) continue;
            const double l = std::max(0.03 * wind.henry, 2e-7) / dt;
            run.amps[c][w] = (run.at(wind.a) - run.at(wind.b) + l * run.amps[c][w]) / (std::max(wind.ohms, 1e-3) + l);
        }
    for (std::size_t k = 0; k < run.net.junctions.size(); ++k) {
        const auto& j = run.net.junctions[k];
        const double v = run.inside(j.anode) ? run.at(j.anode) - run.at(j.cathode) : 0;
        run.junction_amps[k] = run.junction_state[k] > 0 ? (v - 0.8) * 33 : run.junction_state[k] < 0 ? v + j.bv : 0;
    }
    for (std::size_t k = 0; k < run.net.resistors.size(); ++k) {
        const auto& r = run.net.resistors[k];
        run.resistor_amps[k] = run.inside(r.a) && run.inside(r.b) ? (run.at(r.a) - run.at(r.b)) / resistor_ohms(run, r) : 0;
        const auto arc = run.arc_ohms.find(r.part);
        if (arc == run.arc_ohms.end() || r.ohms < kOpenOhms / 2) continue;
        const double i = std::fabs(run.resistor_amps[k]);
        const double before = arc->second;
        arc->second = i < run.options.arc_least_amps ? kOpenOhms : std::clamp(run.options.arc_volts / i, 0.05, run.options.arc_volts);
        if (arc->second != before) run.factored_dt = -1;
    }
    return true;
}

class StressBook {
public:
    explicit StressBook(const Board& board) : m_board(board) {
        for (const auto& part : board.parts) {
            const auto n = nominal_value(part);
            m_nominal.push_back(n ? *n : Nominal{});
        }
    }

    void record(const Run& run, std::span<const Fault> faults, double dt, double now) {
        const auto broken = [&](int part) {
            return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == part; });
        };
        for (std::size_t k = 0; k < run.net.resistors.size(); ++k) {
            const auto& r = run.net.resistors[k];
            if (broken(r.part)) continue;
            const auto& part = m_board.part(r.part);
            const double i = run.resistor_amps[k];
            const double watts = part.watts.value_or(0.25);
            const auto& nominal = nominal_of(r.part);
            const double amps = nominal.amps.value_or(2);
            switch (part.kind) {
            case PartKind::Fuse:
                add({r.part, FaultMode::Open, {}}, StressKind::FuseI2t, i * i * dt,
                    (nominal.characteristic == "quick-acting" ? 2 : 15) * amps * amps, 0.35, now);
                break;
            case PartKind::Resistor:
                add({r.part, FaultMode::Open, {}}, StressKind::PulseEnergy, i * i * r.ohms * dt, 0.25 * watts, 0.6, now);
                break;
            case PartKind::FusibleResistor:
                add({r.part, FaultMode::Open, {}}, StressKind::PulseEnergy, i * i * r.ohms * dt, 0.12 * watts, 0.4, now);
                break;
            case PartKind::Thermistor:
                add({r.part, FaultMode::Open, {}}, StressKind::PulseEnergy, i * i * r.ohms * dt, 10 * amps, 0.5, now);
                break;
            case PartKind::Track:
                add({r.part, FaultMode::Open, {}}, StressKind::FuseI2t, i * i * dt, 400, 0.7, now);
                break;
            default:
                break;
            }
        }
        for (std::size_t k = 0; k < run.net.junctions.size(); ++k) {
            const auto& j = run.net.junctions[k];
            const double i = run.junction_amps[k];
            if (i == 0 || broken(j.part)) continue;
            junction(j, i, dt, now);
        }
        for (std::size_t k = 0; k < run.net.capacitors.size(); ++k) {
            const auto& c = run.net.capacitors[k];
            if (broken(c.part) || !run.inside(c.a)) continue;
            const auto& part = m_board.part(c.part);
            const double v = std::fabs(run.at(c.a) - run.at(c.b));
            if (part.kind == PartKind::Mosfet || part.kind == PartKind::Igbt)
                peak({c.part, FaultMode::Short, {}}, StressKind::GateVolts, v, 45, 0.25, now);
            else if (is_wet_or_solid_electrolytic(part.kind) && part.volts)
                peak({c.part, FaultMode::Short, {}}, StressKind::CapacitorVolts, v, 1.25 * *part.volts, 0.08, now);
        }
        // A switch whose drain-source path is already short can still lose its gate.
        for (const auto& f : faults) {
            if (f.mode != FaultMode::DsShort) continue;
            const auto& part = m_board.part(f.part);
            const int g = part.net("G"), s = part.net("S");
            if (g >= 0 && s >= 0 && run.inside(g) && run.inside(s))
                peak({f.part, FaultMode::Short, {}}, StressKind::GateVolts, std::fabs(run.at(g) - run.at(s)), 45, 0.25, now);
        }
    }

    std::vector<Stress> take() const {
        std::vector<Stress> out;
        for (const auto& [key, s] : m_book)
            if (s.ratio() > 0.01) out.push_back(s);
        return out;
    }

private:
    void junction(const Junction& j, double i, double dt, double now) {
        const auto& part = m_board.part(j.part);
        if (is_controller(part.kind)) {
            FaultMode mode = FaultMode::Dead;
            for (const auto& pin : part.pins) {
                if (pin.id != j.anode && pin.id != j.cathode) continue;
                if (pin.role == "DRV" || pin.role == "OUT") mode = FaultMode::OutputShort;
                if (pin.role == "VCC" && mode == FaultMode::Dead && (part.net("GND") == j.anode || part.net("GND") == j.cathode))
                    mode = FaultMode::SupplyShort;
            }
            peak({j.part, mode, {}}, StressKind::PinCurrent, std::fabs(i), 0.5, 0.7, now);
            return;
        }
        const auto& nominal = nominal_of(j.part);
        const double amps = nominal.amps.value_or(1);
        const double limit = std::pow(30 * amps, 2) * 5e-3;
        if (part.kind == PartKind::Zener) {
            const double watts = nominal.watts.value_or(0.5);
            add({j.part, FaultMode::Short, {}}, StressKind::PulseEnergy, std::fabs(i) * (i < 0 ? j.bv : 1) * dt, 0.1 * watts, 0.5, now);
        } else if (is_diode_like(part.kind)) {
            add({j.part, FaultMode::Short, {}}, StressKind::SurgeI2t, i * i * dt, limit, 0.5, now);
        } else if (part.kind == PartKind::Bridge) {
            std::string leg;
            for (const auto& pin : part.pins)
                if (pin.role.starts_with("~") && (pin.id == j.anode || pin.id == j.cathode))
                    leg = pin.role + (part.net("+") == j.cathode ? "+" : "-");
            add({j.part, FaultMode::Short, leg}, StressKind::SurgeI2t, i * i * dt, limit, 0.5, now);
        }
    }

    Stress& entry(const Fault& fault, StressKind kind, double limit, double sigma) {
        auto [it, fresh] = m_book.try_emplace(fault);
        if (fresh) it->second = {fault, kind, 0, limit, sigma, 0};
        return it->second;
    }
    static void note(Stress& s, double value, double now) {
        if (value <= s.value * (1 + 1e-6)) return;
        if (s.value < s.limit) s.reached_at = now;
        s.value = value;
    }
    void add(const Fault& fault, StressKind kind, double more, double limit, double sigma, double now) {
        auto& s = entry(fault, kind, limit, sigma);
        note(s, s.value + more, now);
    }
    void peak(const Fault& fault, StressKind kind, double value, double limit, double sigma, double now) {
        note(entry(fault, kind, limit, sigma), value, now);
    }

    const Nominal& nominal_of(int part) const { return m_nominal[static_cast<std::size_t>(part)]; }

    const Board& m_board;
    std::vector<Nominal> m_nominal; // by part: reading value texts at every step would dominate the run
    std::map<Fault, Stress> m_book;
};

Problem failed(std::string what) { return {ProblemKind::SolveFailed, {}, std::move(what), "surge", 0, false}; }

} // namespace

std::vector<int> bulk_capacitors(const Board& board) {
    std::vector<int> out;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (board.part(i).stage == "bulk" && board.part(i).kind == PartKind::Electrolytic) out.push_back(i);
    return out;
}

Result<SurgeResult> run_surge(const Board& board, std::span<const Fault> initial, std::span<const SurgeEvent> events,
                              const SurgeOptions& options, const CancelToken& cancel) {
    const auto bulk = bulk_capacitors(board);
    if (bulk.empty() || !board.mains) return failed("no bulk capacitor on mains");
    const int reference = board.part(bulk.front()).net("-");
    const double crest = std::numbers::sqrt2 * board.mains->volts;
    const double omega = 2 * std::numbers::pi * board.mains->hertz;

    Run run{board, options, {}, {}, 0, {}, {}, {}, {}, {}, {}, -1, -1, {}, {}, -1};
    find_mains(run);
    std::vector<Fault> faults(initial.begin(), initial.end());
    rebuild(run, faults, reference);
    for (std::size_t k = 0; k < run.net.capacitors.size(); ++k) {
        const int part = run.net.capacitors[k].part;
        if (std::find(bulk.begin(), bulk.end(), part) != bulk.end())
            run.cap_volts[k] = crest - 1.8; // capacitors in series (doublers) would share this
        else if (board.part(part).stage == "bulk")
            run.cap_volts[k] = crest - 1.8;
        else if (board.part(part).stage == "control" && is_wet_or_solid_electrolytic(board.part(part).kind))
            run.cap_volts[k] = 13;
    }

    SurgeResult result;
    StressBook book(board);
    double before = 0;
    for (std::size_t k = 0; k < run.net.capacitors.size(); ++k)
        if (run.net.capacitors[k].part == bulk.front()) before = 0.5 * run.net.capacitors[k].farads * run.cap_volts[k] * run.cap_volts[k];
    std::size_t next = 0;
    double lowest = before;
    int same_step = 0;
    for (double now = 0, dt = options.first_step; now < options.seconds; now += dt) {
        if (++same_step > options.steps_a_level && dt < options.longest_step) {
            dt = std::min(2 * dt, options.longest_step);
            same_step = 0;
        }
        if (cancel.cancelled()) return Problem{ProblemKind::Cancelled, {}, {}, {}, 0, false};
        bool changed = false;
        for (; next < events.size() && events[next].at <= now; ++next) {
            const auto& f = events[next].fault;
            const bool resistor = is_resistor_like(board.part(f.part).kind);
            if (f.mode == FaultMode::Open && resistor) run.arc_ohms[f.part] = 0.5;
            std::erase_if(faults, [&](const Fault& old) { return old.part == f.part && f.mode == FaultMode::Short; });
            faults.push_back(f);
            changed = true;
        }
        if (changed) {
            rebuild(run, faults, reference);
            dt = std::min(dt, 16 * options.first_step);
            same_step = 0;
        }
        if (!step(run, dt, crest * std::cos(omega * (now + dt)))) return failed("singular network at " + std::to_string(now) + " s");
        book.record(run, faults, dt, now + dt);
        for (std::size_t k = 0; k < run.net.capacitors.size(); ++k) {
            const auto& c = run.net.capacitors[k];
            if (c.part != bulk.front()) continue;
            lowest = std::min(lowest, 0.5 * c.farads * run.cap_volts[k] * run.cap_volts[k]);
            result.peak_amps = std::max(result.peak_amps, std::fabs(run.at(c.a) - run.at(c.b) - run.cap_volts[k]) / c.esr);
        }
    }
    result.bulk_joules_dumped = before - lowest;
    result.stresses = book.take();
    return result;
}

} // namespace ohmo
