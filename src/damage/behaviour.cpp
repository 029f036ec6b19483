// SPDX-License-Identifier: GPL-3.0-or-later
// Averaged, not cycle by cycle: paths are judged by DC resistances of the faulted board (input path by junctions forward at 10 mA). The
// chances of the words are common practice, no source.
#include "damage/behaviour.h"

#include "board/nominal.h"
#include "circuit/dc_solver.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ohmo {
namespace {

double ohms_between(const DcSolver& solver, NetId a, NetId b, double amps) {
    if (a < 0 || b < 0 || a == b || !solver.connected(a, b)) return kOpenOhms;
    const auto point = solver.solve(a, b, amps);
    return point.converged ? point.volts / amps : kOpenOhms;
}

bool lacks(const std::vector<Fault>& faults, const std::vector<int>& parts, FaultMode mode) {
    return std::any_of(faults.begin(), faults.end(),
                       [&](const Fault& f) { return f.mode == mode && std::find(parts.begin(), parts.end(), f.part) != parts.end(); });
}

} // namespace

std::string_view running_name(Running running) {
    static constexpr std::array<std::string_view, 7> names = {"no-input", "blows-fuse", "no-start", "hiccup", "high", "weak", "normal"};
    return names[static_cast<std::size_t>(running)];
}

BehaviourModel::BehaviourModel(const Board& board) : m_board(board), m_topology(find_topology(board)) {
    for (const auto& part : board.parts) {
        if (part.stage != "mains-in" || part.kind != PartKind::Connector || part.pairs().size() < 2) continue;
        m_mains = {part.pairs()[0].first->id, part.pairs()[1].first->id};
        break;
    }
}

const BehaviourModel::PrimaryState& BehaviourModel::primary(const std::vector<Fault>& faults) {
    std::vector<Fault> key;
    for (const auto& f : faults)
        if (changes_dc(m_board, f)) key.push_back(f);
    const auto found = m_memo.find(key);
    if (found != m_memo.end()) return found->second;
    PrimaryState state;
    const DcSolver solver(expand(m_board, {}, key));
    const auto& t = m_topology;
    if (m_mains.size() == 2 && t.hv >= 0)
        state.input = ohms_between(solver, m_mains[0], t.hv, 0.01) < 400 && ohms_between(solver, t.primary_ground, m_mains[1], 0.01) < 400;
    if (t.hv >= 0) {
        state.shorted = ohms_between(solver, t.hv, t.primary_ground, 0.01) < 60;
        if (m_mains.size() == 2)
            state.shorted = state.shorted || ohms_between(solver, m_mains[0], m_mains[1], 0.01) < 20 ||
                            ohms_between(solver, m_mains[1], m_mains[0], 0.01) < 20;
        // Half the bridge shorted blows the fuse on every other half cycle.
    }
    if (t.supply >= 0 && t.hv >= 0) {
        // Share of the bulk voltage that reaches the unloaded supply pin, from three two-point resistances (reciprocal network, junctions
        // off at 1 nA).
        const double top = ohms_between(solver, t.hv, t.primary_ground, 1e-9), low = ohms_between(solver, t.supply, t.primary_ground, 1e-9),
                     across = ohms_between(solver, t.hv, t.supply, 1e-9);
        const double share = (top + low - across) / (2 * top);
        const auto controller = t.controller >= 0 ? nominal_value(m_board.part(t.controller)) : Result<Nominal>(Nominal{});
        const double start_volts = controller ? controller->start_volts.value_or(16) : 16;
        const double crest = m_board.mains ? std::sqrt(2.0) * m_board.mains->volts : 0;
        state.supplied = m_board.mains ? share * crest > start_volts : low > 1e4;
    }
    return m_memo.emplace(std::move(key), state).first->second;
}

Behaviour BehaviourModel::judge(const Scenario& scenario) {
    const auto faults = scenario.faults();
    Behaviour b;
    b.violent = scenario.violent();
    const auto& t = m_topology;
    bool rail_short = false, sags = false, feedback = false, bridge_short = false, stuck_off = false;
    for (const auto& f : faults) {
        const auto& part = m_board.part(f.part);
        const bool shorted = f.mode == FaultMode::Short || f.mode == FaultMode::Leaky;
        if (part.kind == PartKind::Electrolytic && f.mode == FaultMode::Short) b.violent = true;
        if (part.kind == PartKind::Bridge && f.mode == FaultMode::Short) bridge_short = true;
        if (shorted && (part.stage == "rectify-out" || part.stage == "smooth" || part.stage == "rails"))
            rail_short = rail_short || f.mode == FaultMode::Short;
        if (f.mode == FaultMode::Dry && (part.stage == "bulk" || part.stage == "smooth")) sags = true;
        if ((part.stage == "feedback" || part.kind == PartKind::Optocoupler) && (f.mode == FaultMode::Open || f.mode == FaultMode::Weak))
            feedback = true;
        if ((part.stage == "feedback" || part.kind == PartKind::Optocoupler) && f.mode == FaultMode::Short &&
            part.kind != PartKind::Resistor)
            stuck_off = true;
        if (part.kind == PartKind::Transformer && f.mode == FaultMode::ShortedTurns) rail_short = true;
        if (f.mode == FaultMode::Open &&
            (part.stage == "rectify-out" || part.kind == PartKind::Connector || part.kind == PartKind::Inductor))
            sags = true;
    }
    const auto& p = primary(faults);
    const bool drive_lost = t.power_switch >= 0 && (lacks(faults, t.drive, FaultMode::Open) || lacks(faults, t.sense, FaultMode::Open) ||
                                                    lacks(faults, {t.power_switch}, FaultMode::Open));
    const bool controller_gone =
        t.controller >= 0 && (lacks(faults, {t.controller}, FaultMode::Dead) || lacks(faults, {t.controller}, FaultMode::OutputShort) ||
                              lacks(faults, {t.controller}, FaultMode::SupplyShort));
    const bool transformer_open = t.transformer >= 0 && lacks(faults, {t.transformer}, FaultMode::Open);
    if (!p.input)
        b.running = Running::NoInput;
    else if (p.shorted || bridge_short)
        b.running = Running::BlowsFuse;
    else if (!p.supplied || drive_lost || controller_gone || transformer_open || stuck_off)
        b.running = Running::NoStart;
    else if (rail_short || lacks(faults, t.supply_capacitors, FaultMode::Dry))
        b.running = Running::Hiccup;
    else if (feedback)
        b.running = Running::High;
    else if (sags)
        b.running = Running::Weak;
    return b;
}

double symptom_chance(std::string_view word, const Behaviour& behaviour) {
    // Columns: no input, blows fuse, no start, hiccup, high, weak, normal.
    struct Row {
        std::string_view word;
        std::array<double, 7> chance;
    };
    static constexpr std::array<Row, 15> rows = {{
        {"dead", {.95, .90, .95, .25, .08, .04, .03}},
        {"fuse-blows", {.01, .80, .01, .01, .01, .01, .01}},
        {"no-start", {.50, .20, .80, .40, .05, .10, .03}},
        {"ticking", {.01, .01, .03, .60, .05, .03, .01}},
        {"flashes-then-off", {.01, .01, .03, .40, .20, .10, .02}},
        {"led-only", {.01, .01, .05, .15, .05, .20, .10}},
        {"low-output", {.01, .01, .02, .20, .02, .50, .05}},
        {"high-output", {.01, .01, .01, .02, .60, .02, .02}},
        {"unstable-output", {.01, .01, .01, .20, .20, .40, .05}},
        {"weak-under-load", {.01, .01, .01, .10, .02, .60, .10}},
        {"dies-after-minutes", {.01, .01, .02, .10, .05, .30, .05}},
        {"starts-when-warm", {.01, .01, .10, .20, .02, .25, .02}},
        {"hum", {.01, .02, .01, .05, .02, .40, .03}},
        {"whine", {.01, .01, .03, .20, .05, .30, .03}},
        {"load-fault", {.02, .02, .02, .05, .05, .10, .50}},
    }};
    if (word == "bang") return behaviour.violent ? 0.6 : 0.03;
    if (word == "smoke") return behaviour.violent ? 0.4 : 0.05;
    for (const auto& row : rows)
        if (row.word == word) return row.chance[static_cast<std::size_t>(behaviour.running)];
    return 0.5;
}

} // namespace ohmo
