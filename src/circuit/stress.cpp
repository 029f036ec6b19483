// SPDX-License-Identifier: GPL-3.0-or-later
// Limits: melting I2t of fuses from IEC 60127-2 (time-lag, sheet 3: 20 to 300 ms at 10 In, taken as two deviations either way;
// quick-acting, sheet 1: at the most 20 ms there); resistor pulses 0.25 J per rated watt, fusible 0.12, but in the way in five times what
// fills the bulk capacitor at every plugging in; rectifiers IFSM^2 x 5 ms (data-sheet convention for a 10 ms half sine) with IFSM = 40
// times the rated current; gates 45 V; logic pins 0.5 A; electrolytics 1.25 times rated volts; inrush thermistors 40 J a rated ampere, from
// the heat their disc holds. Apart from the rectifier convention: common practice, no source, hence the wide spreads. I2t and energies by
// the trapezoid of the currents at both ends of a step.
#include "circuit/stress.h"

#include "circuit/energised.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kMinute = 60;
constexpr double kLeastAmps = 1e-3; // junctions below it take nothing worth a note

double mean_square(double a, double b) { return (a * a + a * b + b * b) / 3; }

void note(Stress& s, double value, double now) {
    if (value <= s.value * (1 + 1e-6)) return;
    if (s.value < s.limit) s.reached_at = now;
    s.value = value;
}

} // namespace

StressBook::StressBook(const Board& board) : m_board(board) {
    for (const auto& part : board.parts) {
        const auto n = likely_value(part);
        m_nominal.push_back(n ? *n : Nominal{});
    }
    if (!board.mains) return;
    const auto bulk = [](const Part& p) { return p.stage == "bulk" && p.kind == PartKind::Electrolytic; };
    for (std::size_t i = 0; i < board.parts.size(); ++i) {
        if (!bulk(board.parts[i])) continue;
        const bool stacked = std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
            return bulk(p) && (p.net("+") == board.parts[i].net("-") || p.net("-") == board.parts[i].net("+"));
        });
        const double crest = std::sqrt(2.0) * board.mains->volts / (stacked ? 2 : 1);
        const double volts = std::min(crest, board.parts[i].volts.value_or(crest)); // less behind a dropper
        m_inrush_joules += stored_joules(m_nominal[i].farads.value_or(0), volts);
    }
}

// What a resistor in the way in must take without harm; 0 elsewhere.
double StressBook::inrush_joules(const Part& part) const {
    return part.stage == "mains-in" || part.stage == "filter" || part.stage == "rectify"
               ? m_board.practice().inrush_margin * m_inrush_joules
               : 0;
}

void StressBook::forget_before() {
    m_resistor_before.clear();
    m_junction_before.clear();
}

void StressBook::record(const Transient& run, std::span<const Fault> faults, double dt, double now) {
    const Netlist& net = run.netlist();
    const auto broken = [&](int part) { return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == part; }); };
    std::vector<double> resistor_now(net.resistors.size()), junction_now(net.junctions.size());
    for (std::size_t k = 0; k < net.resistors.size(); ++k) resistor_now[k] = run.resistor_amps(k);
    for (std::size_t k = 0; k < net.junctions.size(); ++k) junction_now[k] = run.junction_amps(k);
    if (m_resistor_before.size() != resistor_now.size()) m_resistor_before = resistor_now;
    if (m_junction_before.size() != junction_now.size()) m_junction_before = junction_now;
    for (std::size_t k = 0; k < net.resistors.size(); ++k)
        if (const auto& r = net.resistors[k]; r.part >= 0 && !broken(r.part))
            resistor(r, mean_square(resistor_now[k], m_resistor_before[k]) * dt, now);
    for (std::size_t k = 0; k < net.junctions.size(); ++k) {
        const auto& j = net.junctions[k];
        if (j.part < 0 || broken(j.part) || std::max(std::fabs(junction_now[k]), std::fabs(m_junction_before[k])) < kLeastAmps) continue;
        junction(j, junction_now[k], m_junction_before[k], dt, now);
    }
    for (const auto& c : net.capacitors)
        if (!broken(c.part)) capacitor(c, std::fabs(run.volts(c.a, c.b)), now);
    // A switch whose drain-source path is already short can still lose its gate.
    for (const auto& c : net.capacitors) {
        const auto shorted =
            std::find_if(faults.begin(), faults.end(), [&](const Fault& f) { return f.part == c.part && f.mode == FaultMode::DsShort; });
        if (shorted != faults.end() && m_board.part(c.part).kind == PartKind::Mosfet) gate(c.part, std::fabs(run.volts(c.a, c.b)), now);
    }
    m_resistor_before = std::move(resistor_now);
    m_junction_before = std::move(junction_now);
}

void StressBook::resistor(const Resistive& r, double i2t, double now) {
    const auto& p = m_board.practice();
    const auto& part = m_board.part(r.part);
    const auto& nominal = m_nominal[static_cast<std::size_t>(r.part)];
    const double watts = part.watts.value_or(p.unrated_resistor_watts), amps = nominal.amps.value_or(p.unrated_fuse_amps);
    const Fault open{r.part, FaultMode::Open, {}};
    switch (part.kind) {
    case PartKind::Fuse:
        if (nominal.characteristic == "quick-acting")
            add(open, StressKind::FuseI2t, i2t, p.quick_seconds * 100 * amps * amps, p.quick_seconds_spread, now);
        else
            add(open, StressKind::FuseI2t, i2t, p.time_lag_seconds * 100 * amps * amps, p.time_lag_seconds_spread, now);
        break;
    case PartKind::Resistor:
    case PartKind::FusibleResistor: {
        const bool fusible = part.kind == PartKind::FusibleResistor;
        const double by_watts = (fusible ? p.fusible_joules_per_watt : p.resistor_joules_per_watt) * watts, by_inrush = inrush_joules(part);
        add(open, StressKind::PulseEnergy, i2t * r.ohms, std::max(by_watts, by_inrush),
            by_inrush > by_watts ? p.inrush_margin_spread
            : fusible            ? p.fusible_joules_per_watt_spread
                                 : p.resistor_joules_per_watt_spread,
            now);
        break;
    }
    case PartKind::Thermistor:
        add(open, StressKind::PulseEnergy, i2t * r.ohms, p.thermistor_joules_per_amp * amps, p.thermistor_joules_per_amp_spread, now);
        break;
    case PartKind::Track:
        add(open, StressKind::FuseI2t, i2t, p.track_i2t, p.track_i2t_spread, now);
        break;
    default:
        break;
    }
}

void StressBook::capacitor(const Capacitive& c, double volts, double now) {
    const auto& p = m_board.practice();
    const auto kind = m_board.part(c.part).kind;
    const auto& rated = m_nominal[static_cast<std::size_t>(c.part)].volts;
    if (kind == PartKind::Mosfet || kind == PartKind::Igbt)
        gate(c.part, volts, now);
    else if (is_wet_or_solid_electrolytic(kind) && rated)
        peak({c.part, FaultMode::Short, {}}, StressKind::CapacitorVolts, volts, p.capacitor_limit_share * *rated,
             p.capacitor_limit_share_spread, now);
}

void StressBook::gate(int part, double volts, double now) {
    const auto& p = m_board.practice();
    peak({part, FaultMode::Short, {}}, StressKind::GateVolts, volts, p.gate_limit_volts, p.gate_limit_volts_spread, now);
}

void StressBook::junction(const Junction& j, double i, double before, double dt, double now) {
    const auto& p = m_board.practice();
    const auto& part = m_board.part(j.part);
    if (is_controller(part.kind)) {
        Fault fault{j.part, FaultMode::Dead, {}};
        const auto outputs = chip_outputs(part), places = places_of_output_short(part);
        const auto chip = chip_pins(part);
        const NetId ground = part.net(chip.ground);
        const auto between = [&](NetId a, NetId b) { return (j.anode == a && j.cathode == b) || (j.anode == b && j.cathode == a); };
        if (!chip.high.empty() && between(part.net(chip.high), part.net(chip.low)))
            return; // the switch's own diode carries what the switch does
        for (const auto& pin : part.pins) {
            if (pin.id != j.anode && pin.id != j.cathode) continue;
            if (std::find(outputs.begin(), outputs.end(), pin.role) != outputs.end() && chip.low != pin.role)
                fault = {j.part, FaultMode::OutputShort, places.empty() ? std::string() : pin.role};
            if (pin.role == chip.supply && fault.mode == FaultMode::Dead && (ground == j.anode || ground == j.cathode))
                fault.mode = FaultMode::SupplyShort;
        }
        add(fault, StressKind::PinI2t, mean_square(i, before) * dt, p.pin_limit_i2t, p.pin_limit_i2t_spread, now);
        return;
    }
    const auto& nominal = m_nominal[static_cast<std::size_t>(j.part)];
    const double limit = half_sine_i2t(p.surge_share * nominal.amps.value_or(1));
    const double i2t = mean_square(i, before) * dt;
    if (part.kind == PartKind::Zener) {
        const double joules = (std::fabs(i) + std::fabs(before)) / 2 * (i < 0 ? j.bv : 1) * dt;
        add({j.part, FaultMode::Short, {}}, StressKind::PulseEnergy, joules, p.zener_joules_per_watt * nominal.watts.value_or(0.5),
            p.zener_joules_per_watt_spread, now);
    } else if (is_diode_like(part.kind)) {
        add({j.part, FaultMode::Short, {}}, StressKind::SurgeI2t, i2t, limit, p.surge_share_spread, now);
    } else if (part.kind == PartKind::Bridge) {
        std::string leg;
        for (const auto& pin : part.pins)
            if (pin.role.starts_with("~") && (pin.id == j.anode || pin.id == j.cathode))
                leg = pin.role + (part.net("+") == j.cathode ? "+" : "-");
        add({j.part, FaultMode::Short, leg}, StressKind::SurgeI2t, i2t, limit, p.surge_share_spread, now);
    }
}

void StressBook::mark(double now) {
    m_marked_at = now;
    for (const auto& [key, s] : m_book) m_marked[key] = s.value;
}

void StressBook::sustain(double now, std::optional<double> stopped_at) {
    if (now <= m_marked_at) return;
    const auto& p = m_board.practice();
    const auto grows = [&](const Stress& s) { // per second
        const auto was = m_marked.find(s.becomes);
        return s.kind == StressKind::FuseI2t || s.kind == StressKind::PulseEnergy
                   ? (s.value - (was == m_marked.end() ? 0 : was->second)) / (now - m_marked_at)
                   : 0.0;
    };
    const auto holds = [&](const Stress& s) { // A²s per second that it carries for ever
        const double amps = p.fuse_melts_above * m_nominal[static_cast<std::size_t>(s.becomes.part)].amps.value_or(p.unrated_fuse_amps);
        return amps * amps;
    };
    double until = stopped_at.value_or(1e9);
    bool melts = false;
    for (const auto& [key, s] : m_book) {
        if (s.kind != StressKind::FuseI2t || grows(s) <= holds(s)) continue;
        melts = true;
        until = std::min(until, std::max(now, now + (s.limit - s.value) / grows(s)));
    }
    if (!melts) return;
    for (auto& [key, s] : m_book) {
        const double rate = grows(s);
        if (rate <= 0) continue;
        const bool fuse = s.kind == StressKind::FuseI2t && rate > holds(s);
        const double value = fuse && !stopped_at ? std::max(s.value, std::min(s.value + rate * kMinute, p.fuse_certainly * s.limit))
                                                 : s.value + rate * (until - now);
        if (s.value < s.limit) s.reached_at = value < s.limit ? until : now + (s.limit - s.value) / rate;
        s.value = value;
    }
}

std::vector<Stress> StressBook::take() const {
    std::vector<Stress> out;
    for (const auto& [key, s] : m_book)
        if (s.ratio() > 0.01) out.push_back(s);
    return out;
}

Stress& StressBook::entry(const Fault& fault, StressKind kind, double limit, double sigma) {
    auto [it, fresh] = m_book.try_emplace(fault);
    if (fresh) it->second = {fault, kind, 0, limit, sigma, 0};
    return it->second;
}

void StressBook::add(const Fault& fault, StressKind kind, double more, double limit, double sigma, double now) {
    auto& s = entry(fault, kind, limit, sigma);
    note(s, s.value + more, now);
}

void StressBook::peak(const Fault& fault, StressKind kind, double value, double limit, double sigma, double now) {
    note(entry(fault, kind, limit, sigma), value, now);
}

} // namespace ohmo
