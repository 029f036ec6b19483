// SPDX-License-Identifier: GPL-3.0-or-later
#include "bench.h"

#include "circuit/square_wave.h"
#include "job/act_entries.h"

#include <algorithm>
#include <cmath>
#include <map>

namespace ohmo::judgement {

Bench::Bench(const Board& asked, Board real, Truth truth, unsigned seed, Differences differences)
    : m_asked(asked), m_real(std::move(real)), m_truth(std::move(truth)), m_seed(seed), m_random(seed),
      m_differences(std::move(differences)) {}

Entry Bench::trace(int part) {
    if (!m_differences.at(part)) return answer({.act = Act::Look, .part = part});
    Entry e;
    e.act = Do::Look;
    e.part = m_asked.part(part).ref;
    e.saw = "not-fitted";
    return e;
}

Entry Bench::answer(const NextAct& act) {
    if (act.act == Act::Look && m_differences.at(act.part)) return trace(act.part);
    for (int part : act.to_lift) // what is not there cannot be taken out
        if (m_differences.at(part)) return trace(part);
    if (act.act == Act::Read || act.act == Act::Pull) return read(act.query);
    Entry e;
    e.part = m_asked.part(act.part).ref;
    const auto fault = std::find_if(m_truth.faults.begin(), m_truth.faults.end(), [&](const Fault& f) { return f.part == act.part; });
    if (act.act == Act::Look) {
        e.act = Do::Look;
        e.saw = look(fault == m_truth.faults.end() ? nullptr : &*fault);
    } else {
        e.act = Do::Substitute;
        e.saw = fault != m_truth.faults.end() && m_truth.faults.size() == 1 ? "works" : "same";
    }
    return e;
}

Entry Bench::read(const Query& q) {
    Entry e = reading_entry(m_asked, {}, q);
    BoardState state = q.state;
    if (q.alone >= 0) {
        state.lifted.assign(m_asked.parts.size(), 1);
        state.lifted[static_cast<std::size_t>(q.alone)] = 0;
    }
    state.lifted.resize(m_asked.parts.size(), 0);
    for (int part : m_differences.absent) state.lifted[static_cast<std::size_t>(part)] = 1;
    const Netlist net = drawn(state);
    MeterProfile meter;
    meter.leads = 0.02;
    const auto r = is_direct(q.what) ? read_dc(DcSolver(net), meter, q.what, q.red, q.black)
                                     : read_ac(AcSolver(net, q.what == Quantity::Esr ? meter.esr_hertz : meter.farads_hertz), meter, q.what,
                                               q.red, q.black);
    if (r.over || !r.converged)
        e.over = true;
    else
        e.value = (q.what == Quantity::Farads && r.alternate && chance(0.5) ? *r.alternate : r.value) * std::exp(0.006 * normal());
    e.rising = r.rising && !e.over && chance(0.5);
    if (e.rising) e.value = *e.value * 0.8;
    return e;
}

std::string Bench::look(const Fault* fault) {
    if (fault == nullptr) return chance(0.02) ? "brown" : "fine";
    const auto kind = m_real.part(fault->part).kind;
    if (kind == PartKind::Electrolytic) return chance(0.7) ? (chance(0.8) ? "bulged" : "leaking") : "fine";
    if (kind == PartKind::Fuse) return chance(0.8) ? (chance(0.6) ? "open" : "black-glass") : "fine";
    if (fault->mode == FaultMode::Open) return chance(0.55) ? "burnt" : "fine";
    return chance(0.25) ? (chance(0.5) ? "cracked" : "hole") : "fine";
}

// Every element off its nominal value by its own draw, the same in every reading of a game.
Netlist Bench::drawn(const BoardState& state) const {
    Netlist net = expand(m_real, state, m_truth.faults);
    std::map<int, unsigned> ordinal;
    const auto draw = [&](int part, double sigma) {
        std::mt19937 own(m_seed * 7919u + static_cast<unsigned>(part) * 104'729u + ordinal[part]++ * 31u);
        own.discard(3);
        return std::exp(0.7 * sigma * std::normal_distribution<double>()(own));
    };
    for (auto& r : net.resistors) r.ohms *= draw(r.part, r.ln_sigma);
    for (auto& j : net.junctions) j.is *= draw(j.part, j.ln_sigma);
    for (auto& q : net.bipolars) q.is *= draw(q.part, q.ln_sigma);
    for (auto& c : net.capacitors) {
        c.farads *= draw(c.part, c.ln_sigma);
        c.esr *= draw(c.part, c.esr_ln_sigma);
    }
    for (auto& core : net.cores) {
        const double factor = draw(core.part, core.ln_sigma);
        for (auto& w : core.windings) w.ohms *= factor;
    }
    return net;
}

} // namespace ohmo::judgement
