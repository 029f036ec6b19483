// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/parts.h"

#include "board/nominal.h"
#include "circuit/netlist.h"

#include <algorithm>
#include <cmath>
#include <tuple>

namespace ohmo::belief {
namespace {

constexpr double kOpenSpread = 0.5; // of what does not conduct
constexpr double kOpenedSpread = 1; // of what should conduct and does not

class Elements {
public:
    Elements(const Board& board, const BoardRoles& roles, int part)
        : m_board(board), m_roles(roles), m_p(board.practice()), m_index(part), m_part(board.part(part)),
          m_nets(static_cast<int>(board.nets.size())) {
        m_healthy = kept(expand_part(board, part, {}));
        for (const auto& r : m_healthy.resistors)
            m_resistor.push_back(conductor(r.a, r.b, r.ohms >= kOpenOhms ? Unknown{kLnOpen, kOpenSpread} : ohms_of(r)));
        for (const auto& j : m_healthy.junctions) m_junction.push_back(junction(j));
        for (const auto& q : m_healthy.bipolars) m_bipolar.push_back(bipolar(q));
        for (const auto& c : m_healthy.capacitors) m_capacitor.push_back(reservoir(c));
        for (const auto& core : m_healthy.cores) windings(core);
        chip_pins();
    }

    void add_mode(const Fault& fault, double wear, const std::vector<Fault>& faults) {
        PartElements::Mode mode{fault, wear, {}};
        m_mode = &mode;
        if (m_part.kind == PartKind::Load && fault.mode == FaultMode::Leaky) return; // what a load draws is not known well enough to tell
        if (!opens_and_closes(fault.mode) && fault.mode != FaultMode::Breakdown) differ(kept(expand_part(m_board, m_index, faults)));
        if (fault.mode == FaultMode::Dry) return dry(std::move(mode));
        m_out.modes.push_back(std::move(mode));
    }

    // Below ground the substrate is the input, and its junctions stand the other way round; some are made so and some are not.
    void add_turned() {
        if (m_turned.empty()) return;
        PartElements::Mode mode{{m_index, FaultMode::Reversed, {}}, m_p.turned_substrate, {}, true}; // no fault: the name is never told
        for (std::size_t k = 0; k < m_turned.size(); ++k) {
            mode.values.push_back({m_junction[k], kLnNoJunction, kOpenSpread});
            mode.values.push_back({m_turned[k], healthy(m_junction[k]).middle, healthy(m_junction[k]).spread});
        }
        m_out.modes.push_back(std::move(mode));
    }

    PartElements take() { return std::move(m_out); }

private:
    // Only what stands between the board's nets; a varistor's inner breakdowns are beyond any meter.
    Netlist kept(Netlist net) const {
        const auto inner = [&](int n) { return n >= m_nets; };
        std::erase_if(net.resistors, [&](const Resistive& r) { return inner(r.a) || inner(r.b); });
        std::erase_if(net.junctions, [&](const Junction& j) { return inner(j.anode) || inner(j.cathode); });
        std::erase_if(net.bipolars, [&](const Bipolar& q) { return inner(q.c) || inner(q.b) || inner(q.e); });
        std::erase_if(net.capacitors, [&](const Capacitive& c) { return inner(c.a) || inner(c.b) || c.a == c.b; });
        for (auto& core : net.cores)
            std::erase_if(core.windings, [&](const Winding& w) { return inner(w.a) || inner(w.b) || w.a < 0 || w.b < 0 || w.a == w.b; });
        return net;
    }

    int unknown(Unknown u) {
        m_out.unknowns.push_back(u);
        return static_cast<int>(m_out.unknowns.size()) - 1;
    }
    Unknown& healthy(int index) { return m_out.unknowns[static_cast<std::size_t>(index)]; }
    int conductor(int a, int b, Unknown u, bool winding = false) {
        const int index = unknown(u);
        m_out.elements.conductors.push_back({a, b, index, -1, winding});
        return index;
    }

    // Wider than the sums of one board need: what is not printed on a part is not known.
    Unknown ohms_of(const Resistive& r) const {
        if (m_part.kind == PartKind::Switch || m_part.kind == PartKind::Connector) return {std::log(r.ohms), m_p.contact_ohms_spread};
        return {std::log(r.ohms), r.ln_sigma, is_told_at_work(m_part.kind) ? Tails::Told : Tails::None};
    }

    Unknown junction_of(const Junction& j) const {
        if (m_part.kind == PartKind::Diode && m_part.value.empty() && !m_part.volts) // silicon, or one that lights up
            return {std::log(j.is), m_p.unknown_diode_spread, Tails::Straight};
        if (const auto nominal = nominal_or_none(m_part); nominal && nominal->led) // of any colour: many a display ends below its volts
            return {std::log(j.is), m_p.led_junction_spread, Tails::Straight};
        switch (m_part.kind) {
        case PartKind::Schottky:
            return {std::log(j.is), m_p.schottky_junction_spread, Tails::Straight};
        case PartKind::Igbt: // with a diode in its case, or without: half way, and as far to either
            return {(std::log(j.is) + kLnNoJunction) / 2, (std::log(j.is) - kLnNoJunction) / 2, Tails::Straight};
        case PartKind::Controller:
        case PartKind::IntegratedSwitch:
            if (const NetId ground = m_part.net(ohmo::chip_pins(m_part).ground); ground >= 0 && j.anode != ground && j.cathode != ground)
                return {std::log(j.is) - m_p.clamp_to_none, m_p.clamp_to_none, Tails::Straight,
                        true}; // a pin that stands more than its supply has no clamp to it
            [[fallthrough]];
        case PartKind::Regulator:
        case PartKind::ShuntReference:
            return {std::log(j.is), m_p.chip_junction_spread, Tails::Straight};
        default:
            return {std::log(j.is), m_p.junction_spread, Tails::Straight};
        }
    }

    int junction(const Junction& j) {
        const int index = unknown(junction_of(j));
        if (m_part.kind == PartKind::Regulator && is_negative()) {
            m_turned.push_back(unknown({kLnNoJunction, kOpenSpread}));
            m_out.elements.junctions.push_back({j.cathode, j.anode, 2, {j.cathode, j.anode, 0}, {1, -1, 0}, m_turned.back(), j.n, -1});
        }
        m_out.elements.junctions.push_back({j.anode, j.cathode, 2, {j.anode, j.cathode, 0}, {1, -1, 0}, index, j.n, -1});
        const bool low = j.bv > 0 && j.bv < m_p.low_zener_volts;
        if (low) { // the breakdown of a low Zener, a milliampere at its volts
            const int back = unknown({std::log(1e-3) - j.bv / (j.breakdown_n * kThermalVolts), m_p.junction_spread});
            m_out.elements.junctions.push_back({j.cathode, j.anode, 2, {j.cathode, j.anode, 0}, {1, -1, 0}, back, j.breakdown_n, -1});
        }
        if (is_diode_like(m_part.kind) || m_part.kind == PartKind::Bridge) // what flows back
            extra(j.anode, j.cathode,
                  m_part.kind == PartKind::Schottky ? Unknown{std::log(m_p.schottky_reverse_ohms), m_p.schottky_reverse_ohms_spread}
                                                    : Unknown{kLnOpen, kOpenSpread});
        return index;
    }

    int bipolar(const Bipolar& q) {
        const int index = unknown({std::log(q.is), m_p.transistor_spread, Tails::Straight});
        const double sign = q.pnp ? -1 : 1;
        for (const auto& [x, y, gain] :
             {std::tuple(q.e, q.c, q.forward_gain), std::tuple(q.c, q.e, q.reverse_gain > 0 ? q.reverse_gain : m_p.reverse_gain)})
            m_out.elements.junctions.push_back({q.pnp ? x : q.b,
                                                q.pnp ? q.b : x,
                                                3,
                                                {y, q.b, x},
                                                {sign, 0, 0},
                                                index,
                                                1.0,
                                                -1,
                                                unknown({std::log(gain), m_p.transistor_gain_spread, Tails::Straight})});
        extra(q.c, q.e, {kLnOpen, kOpenedSpread});
        return index;
    }

    std::pair<int, int> reservoir(const Capacitive& c) {
        const bool wet = m_part.kind == PartKind::Electrolytic;
        const int farads = unknown({std::log(c.farads), std::hypot(c.ln_sigma, untold_farads())}),
                  esr = unknown({std::log(c.esr), c.esr_ln_sigma});
        m_out.elements.reservoirs.push_back({c.a, c.b, farads, esr,
                                             wet                                 ? m_p.wet_loss
                                             : m_part.kind == PartKind::Tantalum ? m_p.tantalum_loss
                                                                                 : m_p.film_loss,
                                             -1, wet && untold_farads() > 0 && !m_part.esr ? m_p.electrolytic_esr_exponent : 0,
                                             std::log(c.farads)});
        return {farads, esr};
    }

    // What nothing on the part says of it, ln.
    double untold_farads() const {
        const auto nominal = nominal_value(m_part);
        if (!is_capacitor(m_part.kind) || (nominal && nominal->farads)) return 0;
        return m_part.taken_spread > 0 ? m_part.taken_spread : m_p.unknown_capacitance_spread;
    }
    double untold_ohms() const {
        const auto nominal = nominal_value(m_part);
        if ((m_part.kind != PartKind::Resistor && m_part.kind != PartKind::FusibleResistor) || (nominal && nominal->ohms)) return 0;
        return m_part.taken_spread > 0 ? m_part.taken_spread : m_p.unknown_resistor_ohms_spread;
    }

    // Ohms and henry of windings that the board does not give are known to a decade.
    void windings(const WindingSet& set) {
        const auto nominal = nominal_value(m_part);
        const bool line = m_roles.line_transformer == m_index;
        Core core{{}, set.coupling};
        for (std::size_t w = 0; w < set.windings.size(); ++w) {
            const auto& winding = set.windings[w];
            const bool given = winding_given(w) || (nominal && nominal->ohms);
            const bool reckoned = line && !given && w < m_roles.line_windings.size() && m_roles.line_windings[w].ohms > 0;
            double ohms = winding.ohms;
            if (reckoned)
                ohms = m_roles.line_windings[w].ohms;
            else if (!given && m_part.kind == PartKind::Transformer)
                ohms = winding_primary(w) ? m_p.converter_primary_ohms : m_p.converter_secondary_ohms;
            if (!given && m_part.kind == PartKind::Choke) ohms = m_p.choke_ohms;
            const int r = conductor(winding.a, winding.b,
                                    {std::log(ohms),
                                     given      ? m_p.known_winding_spread
                                     : reckoned ? m_p.reckoned_winding_spread
                                                : m_p.unknown_winding_spread,
                                     given ? Tails::Told : Tails::None},
                                    true);
            const int l = unknown({std::log(winding.henry), m_part.kind == PartKind::Transformer || !(nominal && nominal->henry)
                                                                ? m_p.unknown_winding_spread
                                                                : m_p.known_winding_spread});
            core.windings.push_back({winding.a, winding.b, r, l, -1});
            m_winding.push_back({r, l});
        }
        if (!core.windings.empty()) m_out.elements.cores.push_back(std::move(core));
    }
    bool winding_given(std::size_t w) const {
        const auto pairs = m_part.pairs();
        return w < pairs.size() && m_part.winding_ohms.contains(pairs[w].first->role + "-" + pairs[w].second->role);
    }
    bool winding_primary(std::size_t w) const {
        const auto pairs = m_part.pairs();
        return w < pairs.size() && pairs[w].first->role.starts_with("P");
    }

    // What a chip's pins draw without power is known to a decade and more.
    void chip_pins() {
        if (!is_controller(m_part.kind) && m_part.kind != PartKind::Regulator && m_part.kind != PartKind::ShuntReference) return;
        const auto chip = ohmo::chip_pins(m_part);
        const NetId ground = m_part.net(chip.ground);
        if (ground < 0) return;
        for (const auto& pin : m_part.pins) {
            if (pin.id == ground || pin.id < 0 || (m_part.kind == PartKind::ShuntReference && pin.role == "K")) continue;
            const bool power = pin.role == "D" || pin.role == "SW" || pin.role == "LX",
                       supply = pin.role == chip.supply || pin.role == "VIN";
            const NetId low = power && m_part.net("S") >= 0 ? m_part.net("S") : ground;
            if (pin.id == low) continue;
            Unknown u = m_part.kind == PartKind::Regulator ? Unknown{std::log(m_p.regulator_pin_ohms), m_p.regulator_pin_ohms_spread}
                        : power                            ? Unknown{std::log(m_p.chip_power_pin_ohms), m_p.chip_power_pin_ohms_spread}
                        : supply                           ? Unknown{std::log(m_p.chip_supply_pin_ohms), m_p.chip_supply_pin_ohms_spread}
                                                           : Unknown{std::log(m_p.chip_pin_ohms), m_p.chip_pin_ohms_spread};
            u.least = std::log(m_p.least_pin_ohms);
            m_pins.push_back(conductor(pin.id, low, u));
        }
        if (m_part.net("S") >= 0 && m_part.net("S") != ground) conductor(m_part.net("S"), ground, {std::log(1e6), 1});
    }

    /// The conductor between two nets beyond those of the healthy netlist: shorts, leaks, reverse currents.
    int extra(int a, int b, Unknown u = {kLnOpen, kOpenSpread}, std::size_t nth = 0) {
        for (const auto& e : m_extra)
            if (((e.a == a && e.b == b) || (e.a == b && e.b == a)) && nth-- == 0) return e.index;
        m_extra.push_back({a, b, conductor(a, b, u)});
        return m_extra.back().index;
    }

    void set(int index, double middle, double spread) { m_mode->values.push_back({index, middle, spread}); }

    void differ(const Netlist& faulty) {
        resistors(faulty);
        std::vector<char> used(faulty.junctions.size(), 0);
        const Unknown absent =
            regulates() ? Unknown{std::log(m_p.open_chip_junction), m_p.open_chip_junction_spread} : Unknown{kLnNoJunction, kOpenSpread};
        for (std::size_t k = 0; k < m_healthy.junctions.size(); ++k) {
            const auto& j = m_healthy.junctions[k];
            const auto at = find(faulty.junctions, used, [&](const Junction& o) { return o.anode == j.anode && o.cathode == j.cathode; });
            if (!at) set(m_junction[k], absent.middle, absent.spread);
        }
        if (m_part.kind == PartKind::Regulator && m_mode->fault.mode == FaultMode::Open) opened_inside();
        for (std::size_t k = 0; k < m_healthy.bipolars.size(); ++k)
            if (faulty.bipolars.size() <= k) set(m_bipolar[k], kLnNoJunction, kOpenSpread);
        for (std::size_t k = 0; k < m_healthy.capacitors.size(); ++k) {
            const auto& c = m_healthy.capacitors[k];
            if (faulty.capacitors.size() <= k) continue;
            const auto& d = faulty.capacitors[k];
            if (d.farads == c.farads && d.esr == c.esr) continue;
            const bool gone = d.farads < c.farads * 1e-3;
            set(m_capacitor[k].first, gone ? std::log(m_p.open_farads) : std::log(d.farads),
                gone ? m_p.open_farads_spread : std::hypot(d.ln_sigma, untold_farads()));
            const auto& as = m_out.elements.reservoirs[k];
            if (!gone && d.esr != c.esr)
                set(m_capacitor[k].second, std::log(d.esr) + as.follows * (std::log(d.farads) - as.from), d.esr_ln_sigma);
        }
        std::size_t w = 0;
        for (std::size_t k = 0; k < m_healthy.cores.size() && k < faulty.cores.size(); ++k)
            for (std::size_t i = 0; i < m_healthy.cores[k].windings.size(); ++i, ++w) {
                const auto &was = m_healthy.cores[k].windings[i], &is = faulty.cores[k].windings[i];
                const auto& [r, l] = m_winding[w];
                if (is.ohms >= kOpenOhms)
                    set(r, kLnOpen, kOpenedSpread);
                else if (is.ohms != was.ohms)
                    set(r, healthy(r).middle + std::log(is.ohms / was.ohms), m_p.high_factor_spread);
                if (is.henry != was.henry) set(l, healthy(l).middle + std::log(is.henry / was.henry), kOpenedSpread);
            }
    }

    bool regulates() const { return m_part.kind == PartKind::Regulator || m_part.kind == PartKind::ShuntReference; }

    // A bond that is off, or a chip that has cracked: its pins may show what they did, or nothing, or a volt or two.
    void opened_inside() {
        for (int index : m_pins) set(index, std::log(m_p.open_chip_ohms), m_p.open_chip_ohms_spread);
        for (std::size_t k = 0; k < m_healthy.junctions.size(); ++k) {
            const auto& values = m_mode->values;
            if (std::any_of(values.begin(), values.end(), [&](const Override& o) { return o.unknown == m_junction[k]; })) continue;
            const double sound = healthy(m_junction[k]).middle, gone = std::log(m_p.open_chip_junction) - m_p.open_chip_junction_spread;
            set(m_junction[k], (sound + gone) / 2, (sound - gone) / 2);
        }
    }

    bool is_negative() const {
        const auto nominal = nominal_value(m_part);
        if (nominal && nominal->volts && *nominal->volts != 0) return *nominal->volts < 0;
        return std::any_of(m_board.rails.begin(), m_board.rails.end(),
                           [&](const Rail& r) { return r.volts < 0 && r.net_id == m_part.net("OUT"); });
    }

    template <class List, class Same>
    static std::optional<std::size_t> find(const List& list, std::vector<char>& used, const Same& same) {
        for (std::size_t i = 0; i < list.size(); ++i)
            if (used[i] == 0 && same(list[i])) {
                used[i] = 1;
                return i;
            }
        return std::nullopt;
    }

    void resistors(const Netlist& faulty) {
        std::vector<char> used(faulty.resistors.size(), 0);
        for (std::size_t k = 0; k < m_healthy.resistors.size(); ++k) {
            const auto& r = m_healthy.resistors[k];
            // The same one first; one of other ohms in the same place else.
            auto at = find(faulty.resistors, used, [&](const Resistive& o) { return o == r; });
            if (!at) at = find(faulty.resistors, used, [&](const Resistive& o) { return o.a == r.a && o.b == r.b; });
            if (!at)
                set(m_resistor[k], kLnOpen, kOpenedSpread);
            else if (const auto& f = faulty.resistors[*at]; !(f == r))
                f.ohms >= kOpenOhms ? set(m_resistor[k], kLnOpen, kOpenedSpread) : set(m_resistor[k], drifted(r, f), drifted_spread(f));
        }
        std::map<std::pair<int, int>, std::size_t> nth;
        for (std::size_t i = 0; i < faulty.resistors.size(); ++i) {
            const auto& f = faulty.resistors[i];
            if (used[i] != 0 || f.ohms >= kOpenOhms) continue;
            const int index = extra(f.a, f.b, {kLnOpen, kOpenSpread}, nth[std::minmax(f.a, f.b)]++);
            const bool schottky_leak = m_part.kind == PartKind::Schottky && m_mode->fault.mode == FaultMode::Leaky;
            if (schottky_leak)
                set(index, std::log(m_p.schottky_leaky_ohms), m_p.schottky_leaky_ohms_spread);
            else
                set(index, std::log(f.ohms), f.ln_sigma);
        }
    }
    bool is_contact() const {
        return m_part.kind == PartKind::Connector || m_part.kind == PartKind::Switch || m_part.kind == PartKind::Track;
    }
    double drifted(const Resistive&, const Resistive& f) const { return is_contact() ? std::log(m_p.bad_contact_ohms) : std::log(f.ohms); }
    double drifted_spread(const Resistive& f) const {
        return is_contact() ? m_p.bad_contact_ohms_spread : std::hypot(f.ln_sigma, untold_ohms());
    }

    // Two ways of drying out: the capacitance goes and the ESR climbs, or the ESR climbs alone.
    void dry(PartElements::Mode mode) {
        PartElements::Mode by_esr = mode;
        by_esr.wear = mode.wear * m_p.dry_by_esr_share;
        mode.wear -= by_esr.wear;
        for (auto& v : by_esr.values)
            for (const auto& [farads, esr] : m_capacitor)
                if (v.unknown == farads)
                    v = {farads, healthy(farads).middle + std::log(m_p.dry_by_esr_capacitance),
                         std::hypot(m_p.dry_by_esr_capacitance_spread, untold_farads())};
        m_out.modes.push_back(std::move(mode));
        m_out.modes.push_back(std::move(by_esr));
    }

    struct Extra {
        int a, b, index;
    };
    const Board& m_board;
    const BoardRoles& m_roles;
    const Practice& m_p;
    int m_index;
    const Part& m_part;
    int m_nets;
    Netlist m_healthy;
    PartElements m_out;
    std::vector<int> m_resistor, m_junction, m_bipolar;
    std::vector<int> m_turned;                               ///< junctions the other way round
    std::vector<int> m_pins;                                 ///< of a chip: what each draws
    std::vector<std::pair<int, int>> m_capacitor, m_winding; ///< farads and ESR, ohms and henry
    std::vector<Extra> m_extra;
    PartElements::Mode* m_mode = nullptr;
};

// A leg that is through has the other leg of its side carry what the line can drive, half of the time: that one goes next. Of six pairs.
double goes_with(const Fault& one, const Fault& other) {
    return !one.place.empty() && !other.place.empty() && one.place.back() == other.place.back() ? 2 : 0.5;
}

} // namespace

PartElements part_elements(const Board& board, const BoardRoles& roles, int index, const std::vector<RootWeight>& roots) {
    Elements out(board, roles, index);
    const auto& part = board.part(index);
    const Practice& p = board.practice();
    for (const auto& r : roots) {
        const bool leg_short = part.kind == PartKind::Bridge && r.fault.mode == FaultMode::Short;
        out.add_mode(r.fault, r.weight * (leg_short ? 1 - p.two_legs_share : 1), {r.fault});
    }
    if (part.kind == PartKind::Bridge) // two legs at once
        for (std::size_t i = 0; i < roots.size(); ++i)
            for (std::size_t k = i + 1; k < roots.size(); ++k)
                if (roots[i].fault.mode == FaultMode::Short && roots[k].fault.mode == FaultMode::Short)
                    out.add_mode(roots[i].fault,
                                 (roots[i].weight + roots[k].weight) * p.two_legs_share / 3 * goes_with(roots[i].fault, roots[k].fault),
                                 {roots[i].fault, roots[k].fault});
    out.add_turned();
    return out.take();
}

} // namespace ohmo::belief
