// SPDX-License-Identifier: GPL-3.0-or-later
// Expected figures: bulk capacitor sqrt(2) Vac less two diode drops, its lower band the valley at the step's load; rails within tolerance;
// mains current P / (V * 0.55), the power factor of a capacitor-input rectifier (common practice, no source). The bulk capacitor counts as
// clear above 100 kohm or while it climbs, a rail above a quarter of what a good one reads.
#include "powerup/ladder.h"

#include "board/nominal.h"
#include "circuit/dc_solver.h"
#include "damage/slow_causes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

// Common practice, no source.
constexpr std::array kHoldShares = {0.2, 0.45, 0.65, 0.85}; // of the mains: where a variable transformer is held
double hold_volts(double mains, double share) { return std::round(mains * share / 5) * 5; }
constexpr std::array kLoadShares = {0.25, 0.5, 1.0};                       // of the rated load
constexpr std::array kLampWatts = {25.0, 40.0, 60.0, 100.0, 150.0, 200.0}; // lamps that a bench has

bool bulk_clear(const Practice& p, const PowerFacts& f) {
    return f.bulk_ohms && (f.bulk_ohms->over || f.bulk_ohms->value >= p.bulk_clear_ohms ||
                           (f.bulk_ohms->rising && f.bulk_ohms->value >= p.bulk_climbing_ohms));
}

std::vector<Lock> make_locks(const Board& board, const BoardRoles& roles, const PowerFacts& f) {
    std::vector<Lock> locks;
    if (!f.discharged || !roles.bulk.empty()) locks.push_back({LockId::Discharged, f.discharged, {}, {}});
    locks.push_back({LockId::BadReplaced, f.bad_in_place.empty(), f.bad_in_place, {}});
    locks.push_back({LockId::RiskLow, f.harm_left <= board.practice().most_left, f.carriers, {}, f.harm_left});
    auto out = f.lifted;
    out.insert(out.end(), f.pulled.begin(), f.pulled.end());
    locks.push_back({LockId::AllRefitted, out.empty(), out, {}});
    if (!f.worked.empty()) locks.push_back({LockId::WorkProven, f.unproven.empty(), f.unproven, {}});
    if (board.mains && !roles.bulk.empty()) locks.push_back({LockId::BulkClear, bulk_clear(board.practice(), f), roles.bulk, {}});
    std::vector<int> unproven;
    for (int r = 0; r < static_cast<int>(board.rails.size()); ++r) {
        const auto seen = f.rail_ohms.find(r);
        const auto healthy = f.healthy_rail_ohms.find(r);
        const double least =
            healthy == f.healthy_rail_ohms.end() ? board.practice().unknown_rail_ohms : board.practice().rail_clear_share * healthy->second;
        if (seen == f.rail_ohms.end() || !(seen->second.over || seen->second.value >= least)) unproven.push_back(r);
    }
    locks.push_back({LockId::RailsClear, unproven.empty(), {}, unproven});
    if (f.soot) locks.push_back({LockId::BarrierClean, f.cleaned, {}, {}});
    if (f.aborted) locks.push_back({LockId::Aborted, false, {}, {}});
    return locks;
}

double idle_watts(const Board& board) {
    const DcSolver solver(expand(board, {}, {}));
    double watts = 0;
    for (const auto& rail : board.rails) {
        watts += board.practice().idle_share * rail.watts();
        if (rail.net_id < 0 || !solver.connected(rail.net_id, rail.return_id)) continue;
        const auto point = solver.solve(rail.net_id, rail.return_id, 1e-4);
        const double ohms = point.volts / 1e-4;
        if (point.converged && ohms > 1) watts += rail.volts * rail.volts / ohms;
    }
    return watts / board.practice().light_load_efficiency;
}

class Builder {
public:
    Builder(const Board& board, const BoardRoles& roles, Ladder& ladder)
        : m_board(board), m_p(board.practice()), m_ladder(ladder), m_roles(roles), m_idle(idle_watts(board)) {
        for (const auto& rail : board.rails) m_rated += rail.watts();
    }

    void build() {
        add({StepKind::ColdProof}, {}, false);
        controller();
        if (!m_board.rails.empty()) back_fed();
        if (!m_board.mains) {
            add({StepKind::LowSupply}, {{"amps-limit", m_p.low_supply_limit_amps}}, false);
        } else {
            mains_steps();
        }
        add({StepKind::Function}, {}, m_board.mains.has_value());
    }

private:
    LadderStep& add(StepId id, std::map<std::string, double> settings, bool live) {
        m_ladder.steps.push_back({id, std::move(settings), {}, live, StepState::Waiting});
        return m_ladder.steps.back();
    }

    void controller() {
        if (m_roles.controller < 0 || m_roles.supply < 0) return; // fed from the input: the next step runs it
        const auto n = likely_value(m_board.part(m_roles.controller));
        const double start = n && n->start_volts ? *n->start_volts : m_p.start_volts;
        auto& step = add({StepKind::Controller}, {{"volts-dc", std::ceil(start + 1)}, {"amps-limit", m_p.controller_limit_amps}}, false);
        step.figures.push_back({m_board.net_name(m_roles.supply), "V", std::ceil(start + 1), start, start + 2});
        step.figures.push_back({"bench-current", "A", m_p.controller_amps, m_p.controller_least_amps, m_p.controller_most_amps});
    }

    void back_fed() {
        auto& step = add({StepKind::RailsBackFed}, {{"amps-limit", m_p.back_fed_limit_amps}}, false);
        for (const auto& rail : m_board.rails) rail_figure(step, rail, 0.98, 1.02);
        step.figures.push_back({"bench-current", "A", m_p.back_fed_amps, 0, m_p.back_fed_most_amps});
    }

    void bulk_figure(LadderStep& step, double volts_ac, double watts) {
        if (m_roles.hv < 0 || !m_roles.droppers.empty()) return; // there its rail is told
        const double crest = std::numbers::sqrt2 * volts_ac - m_p.bridge_drop_volts;
        const double valley = bulk_ripple(volts_ac, m_board.mains->hertz, bulk_farads(m_board, m_roles), watts).valley_volts;
        step.figures.push_back({m_board.net_name(m_roles.hv), "V", crest, std::min(0.96 * crest, valley), 1.03 * crest});
    }

    void rail_figures(LadderStep& step, bool running) {
        for (const auto& rail : m_board.rails) {
            if (running) {
                rail_figure(step, rail, 1 - rail.tolerance, 1 + rail.tolerance);
            } else {
                const auto [low, high] = rail.between(0, 1 + rail.tolerance);
                step.figures.push_back({rail.net, "V", 0, low, high});
            }
        }
    }

    static void rail_figure(LadderStep& step, const Rail& rail, double least, double most) {
        const auto [low, high] = rail.between(least, most);
        step.figures.push_back({rail.net, "V", rail.volts, low, high});
    }

    void current_figure(LadderStep& step, double volts_ac, double watts) {
        const double amps = watts / (volts_ac * m_p.power_factor);
        step.figures.push_back({"mains-current", "A", amps, 0.3 * amps, 1.8 * amps + 0.02});
    }

    void mains_steps() {
        const double mains = m_board.mains->volts;
        m_ladder.lamp = choose_lamp(m_p, mains, m_idle);
        // Rule of thumb, common practice, no source: not yet computed from the start-up path of this board.
        m_ladder.start_volts_ac = m_roles.controller >= 0 ? m_p.start_share * mains : 0;
        auto& lamp = add({StepKind::Lamp}, {{"volts-ac", mains}, {"lamp-watts", m_ladder.lamp->lamp.watts0}}, true);
        const double supply = m_ladder.lamp->points.upper.value_or(0);
        bulk_figure(lamp, supply, m_idle);
        rail_figures(lamp, true);
        lamp.figures.push_back({"lamp", "V", mains - supply, 0, mains * 0.25});
        for (double share : kHoldShares) {
            const double volts = hold_volts(mains, share);
            auto& hold = add({StepKind::VariableTransformer, static_cast<int>(volts)}, {{"volts-ac", volts}}, true);
            const bool running = volts > m_ladder.start_volts_ac * 1.2;
            bulk_figure(hold, volts, running ? m_idle : 0.5);
            rail_figures(hold, running);
            current_figure(hold, volts, running ? m_idle : 2);
        }
        auto& full = add({StepKind::FullNoLoad}, {{"volts-ac", mains}, {"load-share", 0}}, true);
        bulk_figure(full, mains, m_idle);
        rail_figures(full, true);
        current_figure(full, mains, m_idle);
        for (double share : kLoadShares) {
            auto& step = add({StepKind::Load, static_cast<int>(share * 100)}, {{"volts-ac", mains}, {"load-share", share}}, true);
            bulk_figure(step, mains, m_idle + share * m_rated / m_p.efficiency);
            rail_figures(step, true);
            current_figure(step, mains, m_idle + share * m_rated / m_p.efficiency);
        }
        auto& soak = add({StepKind::Soak}, {{"volts-ac", mains}, {"load-share", 1}, {"minutes", m_p.soak_minutes}}, true);
        rail_figures(soak, true);
    }

    const Board& m_board;
    const Practice& m_p;
    Ladder& m_ladder;
    const BoardRoles& m_roles;
    double m_idle = 0, m_rated = 0;
};

} // namespace

LampChoice choose_lamp(const Practice& practice, double volts_ac, double watts) {
    LampChoice choice;
    choice.supply_watts = watts;
    for (double size : kLampWatts) {
        choice.lamp = {size, volts_ac, 0.55};
        choice.points = lamp_points(choice.lamp, volts_ac, watts);
        if (choice.points.most_watts > practice.lamp_spare * watts) break;
    }
    return choice;
}

Ladder make_ladder(const Board& board, const BoardRoles& roles, const PowerFacts& facts) {
    Ladder ladder;
    ladder.locks = make_locks(board, roles, facts);
    ladder.locked = std::any_of(ladder.locks.begin(), ladder.locks.end(), [](const Lock& l) { return !l.open; });
    Builder(board, roles, ladder).build();
    const auto passed_before = [&](const LadderStep& s) {
        return std::find(facts.passed.begin(), facts.passed.end(), s.id) != facts.passed.end();
    };
    ladder.under_way = 1;
    while (ladder.under_way < static_cast<int>(ladder.steps.size()) &&
           passed_before(ladder.steps[static_cast<std::size_t>(ladder.under_way)]))
        ++ladder.under_way;
    bool before = true; // all steps so far passed
    ladder.current = static_cast<int>(ladder.steps.size());
    for (std::size_t i = 0; i < ladder.steps.size(); ++i) {
        auto& step = ladder.steps[i];
        // The cold proof is passed by opening the locks, not by a click.
        const bool passed = i == 0 ? !ladder.locked : passed_before(step);
        if (ladder.locked && i > 0)
            step.state = StepState::Locked;
        else if (before && passed)
            step.state = StepState::Passed;
        else if (before) {
            step.state = StepState::Current;
            ladder.current = static_cast<int>(i);
            before = false;
        } else
            step.state = StepState::Waiting;
        if (ladder.locked) before = false;
    }
    return ladder;
}

std::string_view lock_name(LockId id) {
    static constexpr std::array<std::string_view, 9> names = {"discharged",         "bulk-clear",    "rails-clear",
                                                              "bad-parts-replaced", "risk-low",      "all-refitted",
                                                              "work-proven",        "barrier-clean", "aborted"};
    return names[static_cast<std::size_t>(id)];
}

std::string_view step_state_name(StepState state) {
    static constexpr std::array<std::string_view, 4> names = {"passed", "current", "waiting", "locked"};
    return names[static_cast<std::size_t>(state)];
}

bool held_back(const Board& board, const std::vector<StepId>& passed) {
    if (!board.mains || passed.empty()) return false;
    switch (passed.back().kind) {
    case StepKind::ColdProof:
    case StepKind::Controller:
    case StepKind::RailsBackFed:
    case StepKind::Lamp:
        return true;
    case StepKind::VariableTransformer:
        return passed.back().setting < static_cast<int>(hold_volts(board.mains->volts, kHoldShares.back()));
    default:
        return false;
    }
}

} // namespace ohmo
