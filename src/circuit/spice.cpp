// SPDX-License-Identifier: GPL-3.0-or-later
// Level-1 models, for which the equations of circuit/ports are the same: diode with RS, BV at 1 mA and NBV; Gummel-Poon bipolar with only
// IS, BF and BR; MOSFET level 1 with VTO and KP on a square channel.
#include "circuit/spice.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo {
namespace {

class Writer {
public:
    Writer(const Netlist& net, SpiceUse use, const std::function<std::string(int)>& node, const std::vector<double>& volts,
           const std::function<std::string(int)>& ref)
        : m_net(net), m_use(use), m_node(node), m_volts(volts), m_ref(ref) {}

    std::vector<std::string> run() {
        for (const auto& r : m_net.resistors) {
            begin(r.part);
            resistor(m_node(r.a), m_node(r.b), r.ohms);
        }
        for (const auto& j : m_net.junctions) begin(j.part), junction(j);
        for (const auto& q : m_net.bipolars) begin(q.part), bipolar(q);
        for (const auto& m : m_net.channels) begin(m.part), channel(m);
        if (m_use != SpiceUse::OperatingPoint)
            for (std::size_t k = 0; k < m_net.capacitors.size(); ++k)
                begin(m_net.capacitors[k].part), capacitor(m_net.capacitors[k], k < m_volts.size() ? m_volts[k] : 0.0);
        m_of.clear(); // K lines name their coils by number
        for (const auto& core : m_net.cores) windings(core);
        return std::move(m_lines);
    }

private:
    void begin(int part) { m_of = m_ref && part >= 0 ? "_" + m_ref(part) : ""; }
    template <class... Args>
    void line(fmt::format_string<Args...> format, Args&&... args) {
        m_lines.push_back(fmt::format(format, std::forward<Args>(args)...));
    }
    void resistor(const std::string& a, const std::string& b, double ohms) {
        if (a != b) line("R{}{} {} {} {:.9g}", ++m_count, m_of, a, b, ohms);
    }
    void leak(int a, int b, double zero_bias) {
        resistor(m_node(a), m_node(b), 1 / (kJunctionLeak + (m_use == SpiceUse::JunctionsOff ? zero_bias : 0)));
    }

    void junction(const Junction& j) {
        leak(j.anode, j.cathode, j.is / (j.n * kThermalVolts));
        if (m_use == SpiceUse::JunctionsOff) return;
        const int k = ++m_count;
        line("D{}{} {} {} MD{}", k, m_of, m_node(j.anode), m_node(j.cathode), k);
        line(".model MD{} D(IS={:.9g} N={:.9g} RS={:.9g}{})", k, j.is, j.n, j.rs,
             j.bv > 0 ? fmt::format(" BV={:.9g} IBV=1m NBV={:.9g}", j.bv, j.breakdown_n) : "");
    }
    void bipolar(const Bipolar& q) {
        leak(q.b, q.e, q.is / (q.forward_gain * kThermalVolts));
        leak(q.b, q.c, q.is / (q.reverse_gain * kThermalVolts));
        if (m_use == SpiceUse::JunctionsOff) return;
        const int k = ++m_count;
        line("Q{}{} {} {} {} MQ{}", k, m_of, m_node(q.c), m_node(q.b), m_node(q.e), k);
        line(".model MQ{} {}(IS={:.9g} BF={:.9g} BR={:.9g})", k, q.pnp ? "PNP" : "NPN", q.is, q.forward_gain, q.reverse_gain);
        if (q.be_bv <= 0) return;
        // The emitter breakdown, which level-1 bipolars lack: a diode that does nothing but break down.
        line("D{}b {} {} ME{}", k, m_node(q.pnp ? q.e : q.b), m_node(q.pnp ? q.b : q.e), k);
        line(".model ME{} D(IS=1e-30 N=1 BV={:.9g} IBV=1m)", k, q.be_bv);
    }
    void channel(const Channel& m) {
        leak(m.d, m.s, 0);
        leak(m.g, m.s, 0);
        if (m_use == SpiceUse::JunctionsOff) return;
        const int k = ++m_count;
        line("M{}{} {} {} {} {} MM{} L=100u W=100u", k, m_of, m_node(m.d), m_node(m.g), m_node(m.s), m_node(m.s), k);
        line(".model MM{} {}(LEVEL=1 VTO={:.9g} KP={:.9g} IS=1e-30)", k, m.p ? "PMOS" : "NMOS", m.p ? -m.threshold : m.threshold, m.gain);
    }
    void capacitor(const Capacitive& c, double volts) {
        const int k = ++m_count;
        if (m_node(c.a) == m_node(c.b)) return;
        line("C{}{} {} c{} {:.9g}{}", k, m_of, m_node(c.a), k, c.farads, volts != 0 ? fmt::format(" IC={:.9g}", volts) : "");
        line("R{}{} c{} {} {:.9g}", k, m_of, k, m_node(c.b), std::max(c.esr, 1e-6));
    }
    void windings(const WindingSet& core) {
        std::vector<int> coils;
        for (const auto& w : core.windings) {
            if (m_use == SpiceUse::OperatingPoint) {
                resistor(m_node(w.a), m_node(w.b), std::max(w.ohms, 1e-3));
                continue;
            }
            coils.push_back(++m_count);
            line("L{} {} w{} {:.9g}", m_count, m_node(w.a), m_count, w.henry);
            line("R{} w{} {} {:.9g}", m_count, m_count, m_node(w.b), std::max(w.ohms, 1e-3));
        }
        for (std::size_t i = 0; i < coils.size(); ++i)
            for (std::size_t k = i + 1; k < coils.size(); ++k) line("K{} L{} L{} {:.9g}", ++m_count, coils[i], coils[k], core.coupling);
    }

    const Netlist& m_net;
    SpiceUse m_use;
    const std::function<std::string(int)>& m_node;
    const std::vector<double>& m_volts;
    const std::function<std::string(int)>& m_ref;
    std::string m_of; // "_Q1": the part being written
    std::vector<std::string> m_lines;
    int m_count = 0;
};

} // namespace

std::vector<std::string> spice_lines(const Netlist& net, SpiceUse use, const std::function<std::string(int)>& node,
                                     const std::vector<double>& capacitor_volts, const std::function<std::string(int)>& ref) {
    return Writer(net, use, node, capacitor_volts, ref).run();
}

} // namespace ohmo
