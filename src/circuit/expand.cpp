// SPDX-License-Identifier: GPL-3.0-or-later
// Unpowered models of every kind of part and the electrical effect of every fault mode.
// Junction parameters are typical of their class (no maker's figures): silicon power rectifier 5 nA, n 1.9 (0.6 V at 1 mA); Schottky 1 uA
// per rated ampere, n 1.05; body diode and protection junctions near 0.5 and 0.65 V at 1 mA. Winding and contact resistances where the
// board gives none are common practice, no source. Fault severities are medians with wide log-normal spreads (shorts: 0.3 ohm, ln sigma 1).
#include "circuit/netlist.h"

#include "board/nominal.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kShortOhms = 0.3, kShortSigma = 1.0;
constexpr double kLeakyOhms = 3e3, kLeakySigma = 1.5;
constexpr double kHighFactor = 30, kHighSigma = 1.2;
constexpr double kDryCapacitance = 0.3, kDryEsrFactor = 25;

class Expander {
public:
    Expander(const Board& board, const BoardState& state, std::span<const Fault> faults)
        : m_board(board), m_state(state), m_faults(faults) {
        m_net.nodes = static_cast<int>(board.nets.size());
    }

    Netlist run() {
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            if (m_state.is_lifted(i)) continue;
            m_index = i;
            m_part = &m_board.part(i);
            const auto nominal = nominal_value(*m_part);
            m_nominal = nominal ? *nominal : Nominal{};
            add_part();
        }
        return std::move(m_net);
    }

private:
    bool has(FaultMode mode, std::string_view place = {}) const {
        return std::any_of(m_faults.begin(), m_faults.end(),
                           [&](const Fault& f) { return f.part == m_index && f.mode == mode && (place.empty() || f.place == place); });
    }

    // Node of a pin; a dry joint puts an open between the net and the leg.
    int node(std::string_view role) {
        const NetId net = m_part->net(role);
        if (net < 0 || !has(FaultMode::DryJoint)) return net;
        const bool mine =
            has(FaultMode::DryJoint, role) || (has(FaultMode::DryJoint) && role == m_part->pins.front().role && no_joint_place());
        if (!mine) return net;
        const int leg = m_net.nodes++;
        m_net.resistors.push_back({net, leg, kOpenOhms, 0.1, m_index});
        return leg;
    }
    bool no_joint_place() const {
        return std::none_of(m_faults.begin(), m_faults.end(),
                            [&](const Fault& f) { return f.part == m_index && f.mode == FaultMode::DryJoint && !f.place.empty(); });
    }

    void resistor(int a, int b, double ohms, double ln_sigma) {
        if (a < 0 || b < 0 || a == b) return;
        m_net.resistors.push_back({a, b, std::clamp(ohms, 1e-3, kOpenOhms), ln_sigma, m_index});
    }
    void short_between(int a, int b) { resistor(a, b, kShortOhms, kShortSigma); }
    void leak_between(int a, int b) { resistor(a, b, kLeakyOhms, kLeakySigma); }
    void junction(int anode, int cathode, double is, double n, double bv = 0) {
        if (anode < 0 || cathode < 0 || anode == cathode) return;
        m_net.junctions.push_back({anode, cathode, is, n, bv, 0.5, m_index});
    }
    double spread(double tolerance) const { return m_part->assumed ? std::max(tolerance, 0.7) : tolerance; }

    // A two-ended conductor: resistor, fuse, contact, track.
    void conductor(int a, int b, double ohms, double ln_sigma) {
        if (has(FaultMode::Open))
            resistor(a, b, kOpenOhms, 0.1);
        else if (has(FaultMode::High))
            resistor(a, b, std::max(ohms, 0.05) * kHighFactor, kHighSigma);
        else
            resistor(a, b, ohms, ln_sigma);
    }

    void add_part() {
        const PartKind kind = m_part->kind;
        if (is_capacitor(kind)) return capacitor();
        if (is_diode_like(kind)) return diode();
        switch (kind) {
        case PartKind::Resistor:
        case PartKind::FusibleResistor:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(10e3), spread(m_nominal.ohms ? 0.025 : 2.0));
        case PartKind::Thermistor:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(5), spread(0.12));
        case PartKind::Fuse:
            return conductor(node("1"), node("2"), 0.1 / m_nominal.amps.value_or(2), 0.4);
        case PartKind::Lamp:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(80), 0.4);
        case PartKind::Track:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(0.01), 0.5);
        case PartKind::Varistor:
            return shunt(node("1"), node("2"));
        case PartKind::Load:
            if (!has(FaultMode::Open)) resistor(node("1"), node("2"), m_nominal.ohms.value_or(2000), m_nominal.ohms ? 0.15 : 1.0);
            return shunt(node("1"), node("2"));
        case PartKind::Connector:
        case PartKind::Switch:
            return contacts();
        case PartKind::Relay:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(300), 0.3);
        case PartKind::Inductor:
        case PartKind::Choke:
        case PartKind::Transformer:
            return windings();
        case PartKind::Bridge:
            return bridge();
        case PartKind::Mosfet:
        case PartKind::Igbt:
            return mosfet();
        case PartKind::BjtNpn:
        case PartKind::BjtPnp:
            return bipolar();
        case PartKind::Controller:
        case PartKind::IntegratedSwitch:
        case PartKind::Regulator:
            return integrated();
        case PartKind::ShuntReference:
            return reference();
        case PartKind::Optocoupler:
            return optocoupler();
        default:
            return;
        }
    }

    // Short or leak faults between two nodes of a part that is otherwise open there.
    void shunt(int a, int b) {
        if (has(FaultMode::Short)) short_between(a, b);
        if (has(FaultMode::Leaky)) leak_between(a, b);
    }

    void capacitor() {
        const int a = node(m_part->pins[0].role == "-" ? "+" : m_part->pins[0].role);
        const int b = node(m_part->pins[0].role == "-" ? "-" : m_part->pins[1].role);
        double farads = m_nominal.farads.value_or(is_wet_or_solid_electrolytic(m_part->kind) ? 100e-6 : 10e-9);
        const double marked_farads = farads;
        const bool wet = m_part->kind == PartKind::Electrolytic;
        // Typical ESR at 100 kHz: about 25 mohm for 1000 uF low-impedance cans, 2.5 times that above 100 V (common practice, no source).
        double esr = 0.02;
        if (m_part->esr)
            esr = *m_part->esr;
        else if (wet)
            esr = std::clamp(0.025 * std::pow(1e-3 / farads, 0.6) * (m_nominal.volts.value_or(35) > 100 ? 2.5 : 1), 0.01, 3.0);
        else if (m_part->kind == PartKind::Tantalum)
            esr = 0.1;
        double esr_sigma = 0.35, c_sigma = spread(wet ? 0.15 : 0.08);
        if (has(FaultMode::Dry)) {
            farads *= kDryCapacitance;
            esr = std::max(esr * kDryEsrFactor, 0.5);
            esr_sigma = 1.0;
            c_sigma = 0.8;
        }
        if (has(FaultMode::Low)) {
            farads *= 0.35;
            c_sigma = 0.5;
        }
        if (has(FaultMode::Open)) {
            farads *= 1e-6;
            esr = 1e5;
        }
        // At a meter's volt or so a formed electrolytic leaks far below its rating: megohms, falling with capacitance (common practice, no
        // source).
        const double leak = is_wet_or_solid_electrolytic(m_part->kind) ? 2e3 / marked_farads : kOpenOhms;
        resistor(a, b, leak, 0.8);
        shunt(a, b);
        if (has(FaultMode::Reversed)) leak_between(a, b);
        if (a >= 0 && b >= 0) m_net.capacitors.push_back({a, b, farads, esr, c_sigma, esr_sigma, m_index});
    }

    void diode() {
        const int a = node("A"), k = node("K");
        shunt(a, k);
        if (has(FaultMode::Open)) return;
        if (m_nominal.led)
            junction(a, k, 1e-18, 1.9);
        else if (m_part->kind == PartKind::Schottky)
            junction(a, k, 1e-6 * m_nominal.amps.value_or(3), 1.05);
        else if (m_part->kind == PartKind::Zener)
            junction(a, k, 1e-12, 1.15, m_nominal.volts.value_or(12));
        else
            junction(a, k, 5e-9, 1.9);
    }

    void contacts() {
        for (const auto& [p, q] : m_part->pairs()) {
            const int a = node(p->role), b = node(q->role);
            if (m_state.is_pulled(m_index)) continue;
            conductor(a, b, 0.02, 0.7);
        }
    }

    void windings() {
        WindingSet core{{}, m_part->kind == PartKind::Choke ? 0.995 : 0.98, spread(0.15), m_index};
        const auto pairs = m_part->pairs();
        const double henry = m_nominal.henry.value_or(m_part->kind == PartKind::Inductor ? 10e-6 : 1e-3);
        double reference_turns = 0;
        for (const auto& [p, q] : pairs) {
            const std::string name = p->role + "-" + q->role;
            const auto turns = m_part->turns.find(name);
            const double n = turns == m_part->turns.end() ? 0 : turns->second;
            if (reference_turns == 0) reference_turns = n;
            const double ratio = reference_turns > 0 && n > 0 ? n / reference_turns : 1.0;
            const auto given = m_part->winding_ohms.find(name);
            double ohms = given != m_part->winding_ohms.end() ? given->second
                                                              : m_nominal.ohms.value_or(m_part->kind == PartKind::Inductor ? 0.05 : 0.4);
            double l = henry * ratio * ratio;
            const bool first = p == pairs.front().first;
            if (first && has(FaultMode::Open)) ohms = kOpenOhms;
            if (first && has(FaultMode::High)) ohms *= kHighFactor;
            if (has(FaultMode::ShortedTurns)) l *= 0.03;
            core.windings.push_back({node(p->role), node(q->role), l, ohms});
        }
        if (has(FaultMode::Breakdown) && pairs.size() > 1) leak_between(pairs.front().first->id, pairs.back().first->id);
        m_net.cores.push_back(std::move(core));
    }

    void bridge() {
        struct Leg {
            const char *name, *anode, *cathode;
        };
        for (const auto& leg : {Leg{"~1+", "~1", "+"}, Leg{"~1-", "-", "~1"}, Leg{"~2+", "~2", "+"}, Leg{"~2-", "-", "~2"}}) {
            const int a = node(leg.anode), k = node(leg.cathode);
            if (has(FaultMode::Short, leg.name)) short_between(a, k);
            if (has(FaultMode::Leaky, leg.name)) leak_between(a, k);
            if (!has(FaultMode::Open, leg.name)) junction(a, k, 5e-9, 1.9);
        }
    }

    void mosfet() {
        const bool igbt = m_part->kind == PartKind::Igbt;
        const int d = node(igbt ? "C" : "D"), g = node("G"), s = node(igbt ? "E" : "S");
        const bool gate_gone = has(FaultMode::Short);
        if (has(FaultMode::DsShort) || has(FaultMode::CeShort) || gate_gone) short_between(d, s);
        if (gate_gone) resistor(g, s, 5, 1.2);
        if (has(FaultMode::GateLeak)) resistor(g, s, 200, 1.5);
        if (has(FaultMode::Leaky)) leak_between(d, s);
        if (has(FaultMode::Open)) return;
        junction(s, d, 1e-10, 1.2);
        resistor(g, s, kOpenOhms, 0.1);
        if (g >= 0 && s >= 0) m_net.capacitors.push_back({g, s, 1e-9, 1.0, 0.3, 0.5, m_index});
    }

    void bipolar() {
        const int c = node("C"), b = node("B"), e = node("E");
        if (has(FaultMode::CeShort) || has(FaultMode::Short)) short_between(c, e);
        if (has(FaultMode::Short)) short_between(b, e);
        if (has(FaultMode::GateLeak)) resistor(b, e, 200, 1.5);
        if (has(FaultMode::Leaky)) leak_between(c, e);
        if (has(FaultMode::Open)) return;
        const bool npn = m_part->kind == PartKind::BjtNpn;
        junction(npn ? b : e, npn ? e : b, 1e-14, 1.0, 8);
        junction(npn ? b : c, npn ? c : b, 1e-14, 1.0);
    }

    // Protection junctions of an integrated circuit: ground to every pin, every pin to its supply.
    void integrated() {
        const bool sw = m_part->kind == PartKind::IntegratedSwitch;
        const std::string ground = sw ? "S" : "GND";
        const std::string supply = m_part->kind == PartKind::Regulator ? "IN" : sw && m_part->net("VCC") < 0 ? "" : "VCC";
        const int gnd = node(ground), vcc = supply.empty() ? -1 : node(supply);
        int out = -1;
        for (const auto& pin : m_part->pins) {
            if (pin.role == ground) continue;
            const int n = pin.role == supply ? vcc : node(pin.role);
            junction(gnd, n, 1e-13, 1.1);
            const bool power = sw && pin.role == "D";
            if (pin.role != supply && !power) junction(n, vcc, 1e-13, 1.1);
            if (pin.role == "DRV" || pin.role == "OUT" || power || pin.role == "SW") out = n;
        }
        resistor(vcc, gnd, 3e6, 1.0);
        if (has(FaultMode::SupplyShort)) resistor(vcc, gnd, 8, 1.2);
        if (has(FaultMode::OutputShort) || (!sw && has(FaultMode::Short)))
            resistor(out, m_part->kind == PartKind::Regulator ? vcc : gnd, 10, 1.2);
        if (sw && (has(FaultMode::DsShort) || has(FaultMode::Short))) short_between(out, gnd);
        if (sw && has(FaultMode::Short)) resistor(vcc, gnd, 8, 1.2);
    }

    void reference() {
        const int a = node("A"), k = node("K"), r = node("R");
        shunt(k, a);
        if (has(FaultMode::Open)) return;
        junction(a, k, 1e-13, 1.1);
        junction(a, r, 1e-13, 1.1);
        resistor(k, a, 5e6, 1.0);
    }

    void optocoupler() {
        if (!has(FaultMode::Open)) junction(node("A"), node("K"), 2e-15, 1.5, 6);
        if (has(FaultMode::Short)) short_between(node("C"), node("E"));
        junction(node("E"), node("C"), 1e-14, 1.0, 7);
    }

    const Board& m_board;
    const BoardState& m_state;
    std::span<const Fault> m_faults;
    Netlist m_net;
    int m_index = 0;
    const Part* m_part = nullptr;
    Nominal m_nominal;
};

} // namespace

Netlist expand(const Board& board, const BoardState& state, std::span<const Fault> faults) { return Expander(board, state, faults).run(); }

bool changes_dc(const Board& board, const Fault& fault) {
    switch (fault.mode) {
    case FaultMode::Dead:
    case FaultMode::Weak:
    case FaultMode::Intermittent:
    case FaultMode::Dry:
    case FaultMode::Low:
    case FaultMode::RegulatorHigh:
    case FaultMode::ShortedTurns:
        return false;
    case FaultMode::Open:
        return !is_capacitor(board.part(fault.part).kind) && board.part(fault.part).kind != PartKind::Varistor;
    default:
        return true;
    }
}

} // namespace ohmo
