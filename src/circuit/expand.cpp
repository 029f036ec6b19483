// SPDX-License-Identifier: GPL-3.0-or-later
// Unpowered models of every kind of part and the electrical effect of every fault mode.
// Parameters of junctions, transistors and varistors come from the part's family (data/device-families.json). Winding and contact
// resistances where the board gives none are common practice, no source. Fault severities are medians with wide log-normal spreads (shorts:
// 0.3 ohm, ln sigma 1).
#include "circuit/netlist.h"

#include "base/text.h"
#include "board/families.h"
#include "board/nominal.h"
#include "board/step_down.h"
#include "circuit/thermal.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <optional>

namespace ohmo {
namespace {

class Expander {
public:
    Expander(const Board& board, int part, std::span<const Fault> faults)
        : m_board(board), m_p(board.practice()), m_faults(faults), m_index(part), m_part(&board.part(part)) {
        m_net.nodes = static_cast<int>(board.nets.size());
        const auto nominal = likely_value(*m_part);
        m_nominal = nominal ? *nominal : Nominal{};
        m_model = device_model(*m_part, m_nominal);
    }

    Netlist run() {
        add_part();
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
        const auto [leg, fresh] = m_legs.try_emplace(std::string(role), m_net.nodes);
        if (fresh) {
            ++m_net.nodes;
            m_net.resistors.push_back({net, leg->second, kOpenOhms, 0.1, m_index});
        }
        return leg->second;
    }
    bool no_joint_place() const {
        return std::none_of(m_faults.begin(), m_faults.end(),
                            [&](const Fault& f) { return f.part == m_index && f.mode == FaultMode::DryJoint && !f.place.empty(); });
    }

    void resistor(int a, int b, double ohms, double ln_sigma) {
        if (a < 0 || b < 0 || a == b) return;
        m_net.resistors.push_back({a, b, std::clamp(ohms, 1e-3, kOpenOhms), ln_sigma, m_index});
    }
    void short_between(int a, int b) { resistor(a, b, m_p.short_ohms, m_p.short_ohms_spread); }
    void leak_between(int a, int b) { resistor(a, b, m_p.leaky_ohms, m_p.leaky_ohms_spread); }
    // `rated_breakdown`: the family's breakdown belongs to this junction.
    void junction(int anode, int cathode, bool rated_breakdown = true) {
        if (anode < 0 || cathode < 0 || anode == cathode) return;
        const auto& m = m_model.junction;
        m_net.junctions.push_back({anode, cathode, m.is, m.n, rated_breakdown ? m.bv : 0.0, 0.5, m_index, m.rs, m.breakdown_ideality});
    }
    double spread(double tolerance) const { return m_part->assumed ? std::max(tolerance, m_p.assumed_spread) : tolerance; }

    double resistor_spread() const {
        if (m_part->taken_spread > 0) return spread(m_part->taken_spread);
        return spread(m_nominal.ohms && !m_part->taken_for ? m_p.resistor_spread : m_p.unknown_resistor_ohms_spread);
    }

    // A fault of one winding or contact: the one it names, or `by_default` where it names none.
    bool has_at(FaultMode mode, std::string_view place, bool by_default) const {
        return std::any_of(m_faults.begin(), m_faults.end(), [&](const Fault& f) {
            return f.part == m_index && f.mode == mode && (f.place.empty() ? by_default : f.place == place);
        });
    }

    // Of a connector, switch or relay.
    void contact(int a, int b, std::string_view place) {
        if (has_at(FaultMode::High, place, true))
            resistor(a, b, m_p.bad_contact_ohms, m_p.bad_contact_ohms_spread);
        else
            conductor(a, b, m_p.contact_ohms, m_p.contact_ohms_spread, place);
    }

    // A two-ended conductor: resistor, fuse, track.
    void conductor(int a, int b, double ohms, double ln_sigma, std::string_view place = {}) {
        if (has_at(FaultMode::Open, place, true))
            resistor(a, b, kOpenOhms, 0.1);
        else if (has_at(FaultMode::High, place, true))
            resistor(a, b, std::max(ohms, m_p.high_least_ohms) * m_p.high_factor, m_p.high_factor_spread);
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
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(m_p.unknown_resistor_ohms), resistor_spread());
        case PartKind::Thermistor:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(m_p.thermistor_ohms), spread(m_p.thermistor_ohms_spread));
        case PartKind::Fuse:
            return conductor(node("1"), node("2"), m_p.fuse_ohm_amps / m_nominal.amps.value_or(m_p.unrated_fuse_amps),
                             m_p.fuse_ohm_amps_spread);
        case PartKind::Lamp:
            return lamp();
        case PartKind::Track:
            return conductor(node("1"), node("2"), m_nominal.ohms.value_or(m_p.track_ohms),
                             m_nominal.ohms ? m_p.track_known_spread : m_p.track_ohms_spread); // reckoned or measured, or not
        case PartKind::Varistor:
            return varistor();
        case PartKind::Load:
            if (!has(FaultMode::Open))
                resistor(node("1"), node("2"), m_nominal.ohms.value_or(m_p.load_ohms),
                         m_nominal.ohms ? m_p.load_known_spread : m_p.load_ohms_spread);
            return shunt(node("1"), node("2"));
        case PartKind::Connector:
        case PartKind::Switch:
            return contacts();
        case PartKind::Relay:
            return relay();
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
        case PartKind::Thyristor:
            return thyristor();
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
        double farads = m_nominal.farads.value_or(is_wet_or_solid_electrolytic(m_part->kind) ? m_p.electrolytic_farads : m_p.small_farads);
        const double marked_farads = farads;
        const bool wet = m_part->kind == PartKind::Electrolytic;
        // Typical ESR at 100 kHz: about 25 mohm for 1000 uF low-impedance cans, 2.5 times that above 100 V (common practice, no source).
        double esr = m_p.other_esr;
        if (m_part->esr)
            esr = *m_part->esr;
        else if (wet)
            esr = std::clamp(m_p.electrolytic_esr * std::pow(1e-3 / farads, m_p.electrolytic_esr_exponent) *
                                 (m_nominal.volts.value_or(35) > 100 ? m_p.electrolytic_esr_high_volts : 1),
                             0.01, 10.0);
        else if (m_part->kind == PartKind::Tantalum)
            esr = m_p.tantalum_esr;
        double esr_sigma = m_p.electrolytic_esr_spread, c_sigma = spread(wet ? m_p.wet_capacitance_spread : m_p.capacitance_spread);
        if (has(FaultMode::Dry)) {
            farads *= m_p.dry_capacitance;
            esr = std::max(esr * m_p.dry_esr_factor, m_p.dry_least_esr);
            esr_sigma = m_p.dry_esr_factor_spread;
            c_sigma = m_p.dry_capacitance_spread;
        }
        if (has(FaultMode::Low)) {
            farads *= m_p.low_capacitance;
            c_sigma = m_p.low_capacitance_spread;
        }
        if (has(FaultMode::Open)) {
            farads *= 1e-6;
            esr = 1e5;
        }
        // At a meter's volt or so a formed electrolytic leaks far below its rating: megohms, falling with capacitance (common practice, no
        // source).
        const double leak = is_wet_or_solid_electrolytic(m_part->kind) ? m_p.leak_ohm_farads / marked_farads : kOpenOhms;
        resistor(a, b, leak, m_p.leak_ohm_farads_spread);
        shunt(a, b);
        if (has(FaultMode::Reversed)) leak_between(a, b);
        if (a >= 0 && b >= 0) m_net.capacitors.push_back({a, b, farads, esr, c_sigma, esr_sigma, m_index});
    }

    void diode() {
        const int a = node("A"), k = node("K");
        shunt(a, k);
        if (has(FaultMode::Open)) return;
        junction(a, k);
    }

    // Two breakdowns against each other: the same curve in both directions.
    void varistor() {
        const int a = node("1"), b = node("2");
        shunt(a, b);
        if (has(FaultMode::Open) || a < 0 || b < 0 || a == b) return;
        const int middle = m_net.nodes++;
        junction(middle, a);
        junction(middle, b);
    }

    void contacts() {
        for (const auto& [p, q] : m_part->pairs()) {
            const int a = node(p->role), b = node(q->role);
            if (m_part->kind == PartKind::Switch && m_part->value == "open") // as it is set: a link that is not fitted
                resistor(a, b, kOpenOhms, 0.1);
            else
                contact(a, b, p->role + "-" + q->role);
        }
    }

    // At rest: the break contact closed, the make contact open unless it is welded.
    void relay() {
        conductor(node("1"), node("2"), m_nominal.ohms.value_or(m_p.relay_ohms), m_p.relay_ohms_spread, "1-2");
        const int common = node("C"), make = node("NO"), rest = node("NC");
        if (common < 0) return;
        if (rest >= 0) contact(common, rest, "C-NC");
        if (make < 0) return;
        if (has(FaultMode::Short))
            short_between(common, make);
        else
            resistor(common, make, kOpenOhms, 0.1);
    }

    void windings() {
        const auto pairs = m_part->pairs();
        const bool known = m_nominal.henry && (m_part->kind != PartKind::Transformer || !m_part->turns.empty());
        WindingSet core{{},
                        m_part->kind == PartKind::Choke ? 0.995 : 0.98,
                        spread(m_p.inductance_spread),
                        known ? spread(m_p.inductance_spread) : m_p.untold_inductance_spread,
                        m_index};
        const double henry = m_nominal.henry.value_or(m_part->kind == PartKind::Inductor ? m_p.inductor_henry : m_p.winding_henry);
        const bool switched = m_part->kind == PartKind::Transformer && is_switched();
        double reference_turns = 0;
        for (const auto& [p, q] : pairs) {
            const std::string name = p->role + "-" + q->role;
            const auto turns = m_part->turns.find(name);
            const double n = turns == m_part->turns.end() ? 0 : turns->second;
            if (reference_turns == 0) reference_turns = n;
            const double untold = switched && p->role.front() != 'P' ? m_p.untold_turns_share : 1.0;
            const double ratio = reference_turns > 0 && n > 0 ? n / reference_turns : untold;
            const auto given = m_part->winding_ohms.find(name);
            double ohms = given != m_part->winding_ohms.end()
                              ? given->second
                              : m_nominal.ohms.value_or(m_part->kind == PartKind::Inductor ? m_p.inductor_ohms : m_p.winding_ohms);
            double l = henry * ratio * ratio;
            const bool first = p == pairs.front().first;
            if (has_at(FaultMode::Open, name, first)) ohms = kOpenOhms;
            if (has_at(FaultMode::High, name, first)) ohms *= m_p.high_factor;
            if (has(FaultMode::ShortedTurns)) l *= m_p.shorted_turns_share;
            core.windings.push_back({node(p->role), node(q->role), l, ohms});
        }
        if (has(FaultMode::Breakdown) && pairs.size() > 1) leak_between(pairs.front().first->id, pairs.back().first->id);
        m_net.cores.push_back(std::move(core));
    }

    // A transistor or an integrated switch stands on a primary, or behind what is in series with one: no transformer of the line.
    bool is_switched() const {
        std::vector<NetId> nets;
        for (const auto& pin : m_part->pins)
            if (pin.role.front() == 'P') nets.push_back(pin.id);
        const std::size_t own = nets.size();
        for (std::size_t k = 0; k < own; ++k)
            for (const auto& part : m_board.parts)
                if ((part.kind == PartKind::Inductor || part.kind == PartKind::Film) && part.touches(nets[k]))
                    for (const auto& pin : part.pins) nets.push_back(pin.id);
        return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& part) {
            return (is_switch_device(part.kind) || part.kind == PartKind::IntegratedSwitch) &&
                   std::any_of(nets.begin(), nets.end(), [&](NetId net) { return part.touches(net); });
        });
    }

    void bridge() {
        struct Leg {
            const char *name, *anode, *cathode;
        };
        for (const auto& leg : {Leg{"~1+", "~1", "+"}, Leg{"~1-", "-", "~1"}, Leg{"~2+", "~2", "+"}, Leg{"~2-", "-", "~2"}}) {
            const int a = node(leg.anode), k = node(leg.cathode);
            if (has(FaultMode::Short, leg.name)) short_between(a, k);
            if (has(FaultMode::Leaky, leg.name)) leak_between(a, k);
            if (!has(FaultMode::Open, leg.name)) junction(a, k);
        }
    }

    void mosfet() {
        const bool igbt = m_part->kind == PartKind::Igbt;
        const int d = node(igbt ? "C" : "D"), g = node("G"), s = node(igbt ? "E" : "S");
        const bool gate_gone = has(FaultMode::Short);
        if (has(FaultMode::DsShort) || has(FaultMode::CeShort) || gate_gone) short_between(d, s);
        if (gate_gone) resistor(g, s, m_p.gate_gone_ohms, m_p.gate_gone_ohms_spread);
        if (has(FaultMode::GateLeak)) resistor(g, s, m_p.gate_leak_ohms, m_p.gate_leak_ohms_spread);
        if (has(FaultMode::Leaky)) leak_between(d, s);
        if (has(FaultMode::Open)) return;
        const bool p = is_p_channel();
        junction(p ? d : s, p ? s : d);
        resistor(g, s, kOpenOhms, 0.1);
        if (g < 0 || s < 0 || d < 0) return;
        // A gate that has broken through no longer opens the channel.
        if (!gate_gone && g != s && d != s)
            m_net.channels.push_back({d, g, s, p, m_model.channel.threshold, m_model.channel.gain, 0.3, m_index});
        if (g != s) m_net.capacitors.push_back({g, s, m_model.channel.gate_farads, 1.0, 0.3, 0.5, m_index});
    }
    // Blocks both ways until its gate is fed, which no meter does for long.
    void thyristor() {
        const int a = node("A"), k = node("K"), g = node("G");
        shunt(a, k);
        if (has(FaultMode::GateLeak)) resistor(g, k, m_p.gate_leak_ohms, m_p.gate_leak_ohms_spread);
        if (has(FaultMode::Open)) return;
        junction(g, k, false);
        resistor(g, k, m_p.thyristor_gate_ohms, m_p.thyristor_gate_ohms_spread);
    }

    bool is_p_channel() const {
        const auto words = split_words(uppered(m_part->value));
        return std::any_of(words.begin(), words.end(), [](const std::string& w) { return w == "P" || w == "P-CHANNEL" || w == "PMOS"; });
    }

    void bipolar() {
        const int c = node("C"), b = node("B"), e = node("E");
        if (has(FaultMode::CeShort) || has(FaultMode::Short)) short_between(c, e);
        if (has(FaultMode::Short)) short_between(b, e);
        if (has(FaultMode::GateLeak)) resistor(b, e, m_p.gate_leak_ohms, m_p.gate_leak_ohms_spread);
        if (has(FaultMode::Leaky)) leak_between(c, e);
        if (has(FaultMode::Open)) return;
        if (c < 0 || b < 0 || e < 0 || b == e || b == c) return;
        const auto& m = m_model.bipolar;
        m_net.bipolars.push_back(
            {c, b, e, m_part->kind == PartKind::BjtPnp, m.is, m.forward_gain, m.reverse_gain, m.emitter_breakdown, 0.5, m_index});
    }

    // A winding or an inductor hangs on it: it swings beyond the supply of a chip.
    bool swings(const Pin& pin) const {
        return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& other) {
            return (other.kind == PartKind::Transformer || other.kind == PartKind::Inductor) && other.touches(pin.id);
        });
    }

    // Protection junctions of an integrated circuit: ground to every pin, every pin to its supply; a pin that stands more has none to that.
    void integrated() {
        const bool sw = m_part->kind == PartKind::IntegratedSwitch;
        const auto chip = chip_pins(*m_part);
        std::map<std::string_view, int> nodes;
        for (const auto& pin : m_part->pins) nodes[pin.role] = node(pin.role);
        const auto at = [&](std::string_view role) {
            const auto found = nodes.find(role);
            return found == nodes.end() ? -1 : found->second;
        };
        const int gnd = at(chip.ground), vcc = at(chip.supply);
        const auto well = chip_well(m_board, *m_part);
        for (const auto& pin : m_part->pins) {
            if (pin.role == chip.ground) continue;
            const int n = at(pin.role);
            if (pin.role == "OUT" && m_part->kind == PartKind::Regulator && has(FaultMode::Open))
                continue; // nothing at its output any more
            junction(gnd, n);
            const bool power = sw && pin.role == "D";
            if (pin.role == chip.supply || power) continue;
            const bool in_switch = sw && (pin.role == chip.high || pin.role == chip.low);
            if (!in_switch && well.holds(pin))
                junction(n, at(m_part->role_on(well.high)));
            else if (in_switch || !is_controller(m_part->kind) || !swings(pin))
                junction(n, vcc);
        }
        const auto outputs = chip_outputs(*m_part);
        const int out = outputs.empty() ? -1 : at(outputs.front());
        resistor(vcc, gnd, m_p.chip_supply_ohms, m_p.chip_supply_ohms_spread);
        if (has(FaultMode::SupplyShort)) resistor(vcc, gnd, m_p.chip_supply_short_ohms, m_p.chip_supply_short_ohms_spread);
        for (const auto& f : m_faults) // of the first output where none is named
            if (f.part == m_index && f.mode == FaultMode::OutputShort)
                resistor(f.place.empty() ? out : at(f.place), gnd, m_p.chip_output_short_ohms, m_p.chip_output_short_ohms_spread);
        if (!sw && has(FaultMode::Short)) // a regulator passes its input on
            resistor(out, m_part->kind == PartKind::Regulator ? vcc : gnd, m_p.chip_output_short_ohms, m_p.chip_output_short_ohms_spread);
        if (m_part->kind == PartKind::Controller && has(FaultMode::DsShort))
            if (const NetId inside = inner_node(m_board, *m_part); inside >= 0) short_between(vcc, at(m_part->role_on(inside)));
        if (sw && (has(FaultMode::DsShort) || has(FaultMode::Short))) short_between(at(chip.high), at(chip.low));
        if (sw && has(FaultMode::Short)) resistor(vcc, gnd, m_p.chip_supply_short_ohms, m_p.chip_supply_short_ohms_spread);
    }

    // What a meter sees is cold: the ohms that are told, or those of a filament of these ratings.
    void lamp() {
        std::optional<double> ohms = m_nominal.ohms, watts = m_nominal.watts;
        if (!watts && m_nominal.volts && m_nominal.amps) watts = *m_nominal.volts * *m_nominal.amps;
        if (!ohms && m_nominal.volts && watts) ohms = filament_lamp(0, *watts, *m_nominal.volts).ohms25;
        conductor(node("1"), node("2"), ohms.value_or(m_p.lamp_ohms), ohms ? m_p.lamp_told_spread : m_p.lamp_ohms_spread);
    }

    void reference() {
        const int a = node("A"), k = node("K"), r = node("R");
        shunt(k, a);
        if (has(FaultMode::Open)) return;
        junction(a, k);
        junction(a, r);
        resistor(k, a, m_p.reference_ohms, m_p.reference_ohms_spread);
    }

    void optocoupler() {
        if (!has(FaultMode::Open)) junction(node("A"), node("K"));
        if (has(FaultMode::Short)) short_between(node("C"), node("E"));
        const int c = node("C"), e = node("E");
        if (c >= 0 && e >= 0 && c != e)
            m_net.junctions.push_back({e, c, 1e-14, 1.0, 7, 0.5, m_index}); // collector against emitter, no light
    }

    const Board& m_board;
    const Practice& m_p;
    std::span<const Fault> m_faults;
    Netlist m_net;
    int m_index = 0;
    const Part* m_part = nullptr;
    Nominal m_nominal;
    DeviceModel m_model;
    std::map<std::string, int> m_legs; // dry joints by pin role
};

} // namespace

Netlist expand_part(const Board& board, int part, std::span<const Fault> faults) { return Expander(board, part, faults).run(); }

void append(Netlist& to, const Netlist& from, int nets) {
    const int shift = to.nodes - nets;
    const auto moved = [&](int n) { return n >= nets ? n + shift : n; };
    for (auto r : from.resistors) {
        r.a = moved(r.a);
        r.b = moved(r.b);
        to.resistors.push_back(r);
    }
    for (auto j : from.junctions) {
        j.anode = moved(j.anode);
        j.cathode = moved(j.cathode);
        to.junctions.push_back(j);
    }
    for (auto q : from.bipolars) {
        q.c = moved(q.c);
        q.b = moved(q.b);
        q.e = moved(q.e);
        to.bipolars.push_back(q);
    }
    for (auto m : from.channels) {
        m.d = moved(m.d);
        m.g = moved(m.g);
        m.s = moved(m.s);
        to.channels.push_back(m);
    }
    for (auto c : from.capacitors) {
        c.a = moved(c.a);
        c.b = moved(c.b);
        to.capacitors.push_back(c);
    }
    for (auto core : from.cores) {
        for (auto& w : core.windings) {
            w.a = moved(w.a);
            w.b = moved(w.b);
        }
        to.cores.push_back(std::move(core));
    }
    to.nodes += from.nodes - nets;
}

Netlist expand(const Board& board, const BoardState& state, std::span<const Fault> faults) {
    const int nets = static_cast<int>(board.nets.size());
    Netlist out;
    out.nodes = nets;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (in_circuit(board, state, i)) append(out, expand_part(board, i, faults), nets);
    return out;
}

bool in_circuit(const Board& board, const BoardState& state, int part) {
    const auto kind = board.part(part).kind;
    const bool contacts = kind == PartKind::Connector || kind == PartKind::Switch;
    return !state.is_lifted(part) && !(contacts && state.is_pulled(part));
}

bool joins_islands(const Board& board, const Fault& fault) {
    if (fault.mode == FaultMode::Breakdown || fault.mode == FaultMode::Carbon) return true;
    return board.part(fault.part).kind == PartKind::YCapacitor && (fault.mode == FaultMode::Short || fault.mode == FaultMode::Leaky);
}

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
    case FaultMode::DsShort:
        return may_fail(board, board.part(fault.part), fault.mode);
    case FaultMode::Open:
        return !is_capacitor(board.part(fault.part).kind) && board.part(fault.part).kind != PartKind::Varistor;
    default:
        return true;
    }
}

} // namespace ohmo
