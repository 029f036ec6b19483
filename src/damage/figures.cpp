// SPDX-License-Identifier: GPL-3.0-or-later
// Sums: a rectifier behind a transformer charges its filter with pulses of about three times the load current, a choke with three tenths of
// it; what of that shows on the rail is the transfer impedance of the filter at 100 kHz, from three two-point impedances (reciprocal
// network). A reservoir on the line falls by I / (n f C) between two crests; behind a regulator that shows only as far as the valley comes
// nearer to the rail than the regulator needs. The bulk capacitor as in circuit/energised. Pulse shares, switching frequency, drop-out and
// what a supply does that is out of regulation are common practice, no source; hence the spreads.
#include "damage/figures.h"

#include "board/net_sets.h"
#include "board/nominal.h"
#include "circuit/energised.h"
#include "circuit/stress.h"
#include "damage/melted.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kMiddle = 0.5, kAnywhere = 0.29; // of what lies anywhere between nothing and all: its middle, one deviation

// Direct current gets to the rail past a converter that stands still, as where it steps up: less than the rail should have.
bool input_stands_on(const PowerPath& path, const Rail& rail, const std::vector<Fault>& faults) {
    return std::any_of(path.entry().begin(), path.entry().end(), [&](NetId contact) {
        if (within(path.stiff_reach({contact}, PowerPath::Way::Wire, -1), rail.return_id)) return false; // that is its way back
        return within(path.stiff_reach({contact}, PowerPath::Way::Forwards, -1), rail.net_id) &&
               within(path.fed_with({contact}, false, faults), rail.net_id);
    });
}

bool on_a_winding(const Board& board, const Part& part) {
    return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& t) {
        return t.kind == PartKind::Transformer &&
               std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id >= 0 && t.touches(p.id); });
    });
}

bool touches_any(const Part& part, const NetSet& nets) {
    return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return within(nets, p.id); });
}

bool on_a_line_winding(const BoardRoles& roles, const Part& part) {
    return std::any_of(roles.line_windings.begin(), roles.line_windings.end(),
                       [&](const LineWinding& w) { return touches_any(part, w.shorts.at); });
}

bool lists(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

} // namespace

FiguresModel::FiguresModel(const Board& board, BoardRoles roles)
    : m_board(board), m_roles(std::move(roles)), m_solvers(std::make_shared<const BoardCircuit>(board, BoardState{})) {
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& rail = board.rails[r];
        const auto on = [&](NetId net) { return net >= 0 && m_roles.path.rail_nets(r)[static_cast<std::size_t>(net)] != 0; };
        Feed feed;
        int rectifiers = 0;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& part = board.part(i);
            if ((is_diode_like(part.kind) || part.kind == PartKind::Bridge) &&
                (part.stage == "rectify-out" || on_a_line_winding(m_roles, part))) {
                const bool bridge = part.kind == PartKind::Bridge;
                const NetId delivers = rail.volts < 0 ? part.net(bridge ? "-" : "A") : part.net(bridge ? "+" : "K");
                if (!on(delivers)) continue;
                feed.net = delivers;
                rectifiers += bridge ? 2 : 1;
            }
            const bool passes = part.kind == PartKind::Regulator || m_roles.is_pass(i);
            if (passes && std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return on(p.id); }))
                feed.regulators.push_back(i);
        }
        feed.wound = std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& part) {
            return !is_capacitor(part.kind) && part.kind != PartKind::Transformer &&
                   std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return on(p.id); }) && on_a_winding(board, part);
        });
        feed.crests = rectifiers > 1 ? 2 : 1;
        feed.source = !m_roles.line_fed() ? Source::Switched : feed.net >= 0 ? Source::Reservoir : Source::Input;
        if (feed.net < 0) feed.net = rail.net_id;
        auto store = m_roles.path.stiff_reach({feed.net}, PowerPath::Way::Wire, -1); // behind a fuse too
        for (NetId back : m_roles.path.returns()) store[static_cast<std::size_t>(back)] = 0;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
            if (is_wet_or_solid_electrolytic(board.part(i).kind) && touches_any(board.part(i), store)) feed.reservoirs.push_back(i);
        m_feeds.push_back(std::move(feed));
    }
}

double FiguresModel::farads(const std::vector<int>& parts, bool stacked, const std::vector<Fault>& faults) const {
    double sum = 0, inverse = 0;
    for (int i : parts) {
        const auto net = expand_part(m_board, i, faults);
        const double c = net.capacitors.empty() ? 1e-9 : std::max(net.capacitors.front().farads, 1e-9);
        sum += c;
        inverse += 1 / c;
    }
    return stacked ? 1 / inverse : std::max(sum, 1e-9);
}

// Volts on the rail for one ampere into its filter, at the switching frequency.
double FiguresModel::filtering_ohms(std::size_t r, const std::vector<Fault>& faults) {
    std::vector<Fault> key;
    for (const auto& f : faults)
        if (is_capacitor(m_board.part(f.part).kind) || m_board.part(f.part).kind == PartKind::Inductor) key.push_back(f);
    std::sort(key.begin(), key.end());
    auto& known = m_filtering[key];
    if (known.empty()) {
        const auto solver = m_solvers.ac(m_board.practice().switching_hertz, key);
        for (std::size_t k = 0; k < m_feeds.size(); ++k) {
            const NetId feed = m_feeds[k].net, rail = m_board.rails[k].net_id, back = m_board.rails[k].return_id;
            const auto z = [&](NetId a, NetId b) { return a == b ? std::complex<double>{} : solver->impedance(a, b).ohms; };
            known.push_back(std::abs(z(feed, back) + z(rail, back) - z(feed, rail)) / 2);
        }
    }
    return known[r];
}

double FiguresModel::ripple(std::size_t r, const std::vector<Fault>& faults, double load) {
    const auto& rail = m_board.rails[r];
    const auto& feed = m_feeds[r];
    const double volts = std::fabs(rail.volts), amps = rail.amps * load;
    if (feed.source == Source::Input || volts <= 0) return 0;
    if (feed.source == Source::Switched)
        return std::min(volts, amps * (m_roles.transformer >= 0 ? m_board.practice().rectifier_pulse : m_board.practice().choke_pulse) *
                                   filtering_ohms(r, faults));
    const double hertz = m_board.mains ? m_board.mains->hertz : m_board.practice().line_hertz;
    double crests = feed.crests;
    const auto fed = m_roles.path.rails(faults)[r];
    if (fed.left > 0 && fed.left < fed.whole) crests = 1;
    const double falls = amps / (crests * hertz * farads(feed.reservoirs, false, faults));
    if (feed.regulators.empty()) return std::min(volts, falls);
    const double spare = (m_board.practice().regulator_spare - 1) * volts - m_board.practice().drop_out_volts;
    return std::clamp(falls - spare, 0.0, volts);
}

// Volts that a switch which is through puts on the rail; 0 where none is.
double FiguresModel::let_through(std::size_t r, const std::vector<Fault>& faults) const {
    double most = 0;
    for (const auto& step : m_roles.step_downs)
        if (step.rails[r] != 0 && std::any_of(faults.begin(), faults.end(), [&](const Fault& f) { return step.through(f); }))
            most = std::max(most, step.volts);
    return most;
}

// A rail that a lost part of the loop lets climb, or holds down: the one whose volts it compares; of a converter with windings all that
// it feeds by them, but not behind a regulator.
bool FiguresModel::moved(std::size_t r, const std::vector<Fault>& faults, LoopLoss how) const {
    const bool converter = m_roles.transformer >= 0;
    const auto goes_along = [&](std::size_t k) { return m_feeds[k].regulators.empty() && (m_feeds[k].wound || !converter); };
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
        if (m_roles.loop.loss(m_board, f) != how) return false;
        const auto& compared = m_roles.loop.compared(f.part);
        if (std::find(compared.begin(), compared.end(), static_cast<int>(r)) != compared.end()) return true;
        const bool by_windings =
            std::any_of(compared.begin(), compared.end(), [&](int k) { return goes_along(static_cast<std::size_t>(k)); });
        return goes_along(r) && (compared.empty() || (converter && by_windings));
    });
}

Figures FiguresModel::of(const std::vector<Fault>& all, const Behaviour& behaviour, double load) {
    Figures out;
    const auto [faults, spared] = melt_branch_fuses(m_board, m_roles.branch_fuses, all);
    const Running running = behaviour.running;
    const bool on = running == Running::Normal || running == Running::Weak || running == Running::High;
    const bool off =
        running == Running::NoInput || running == Running::BlowsFuse || (running == Running::NoStart && behaviour.lost.empty());
    double holds = 1; // share of its volts that a converter keeps up
    if (m_board.mains && m_roles.hv >= 0) {
        const double crest = std::numbers::sqrt2 * m_board.mains->volts;
        const bool charged = running != Running::NoInput && (running != Running::BlowsFuse || (spared && m_roles.path.input_fed(faults)));
        const double watts = m_roles.input_watts * load * (on ? 1 : running == Running::Hiccup ? m_board.practice().hiccup_share : 0);
        out.bulk_volts = charged ? running_bulk_volts(m_board, m_roles) : 0;
        if (charged && watts > 0 && m_roles.droppers.empty()) {
            const auto ripple =
                bulk_ripple(m_board.mains->volts, m_board.mains->hertz, farads(m_roles.bulk, m_roles.stacked, faults), watts);
            out.bulk_ripple = ripple.peak_volts - ripple.valley_volts;
            holds = std::min(1.0, ripple.valley_volts / (m_board.practice().holds_down_to * crest));
        }
    }
    const auto feeds = m_roles.path.rails(faults);
    const auto has = [&](const std::vector<int>& parts, std::initializer_list<FaultMode> modes) {
        return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
            return lists(parts, f.part) && std::find(modes.begin(), modes.end(), f.mode) != modes.end();
        });
    };
    const auto runs_away = [&](const Feed& feed) {
        return has(feed.regulators, {FaultMode::RegulatorHigh, FaultMode::Short, FaultMode::CeShort});
    };
    const auto& p = m_board.practice();
    const bool limits = has(m_roles.sense, {FaultMode::High}) && load * p.high_factor > p.design_current_headroom;
    const bool held_down = has(m_roles.soft_start, {FaultMode::Leaky}) || limits;
    for (std::size_t r = 0; r < m_board.rails.size(); ++r) {
        const auto& rail = m_board.rails[r];
        const double nominal = std::fabs(rail.volts), sign = rail.volts < 0 ? -1 : 1;
        RailFigure figure{nominal, std::max(nominal * rail.tolerance / 2, m_board.practice().least_volts_spread), 0};
        const auto share = [&](double of, double sigma) {
            figure = {of * nominal, std::max(sigma * nominal, m_board.practice().least_volts_spread), 0};
        };
        if (off || (!behaviour.lost.empty() && behaviour.lost[r] != 0)) {
            if (!m_board.mains && running != Running::NoInput && running != Running::BlowsFuse &&
                input_stands_on(m_roles.path, rail, faults))
                share(kMiddle, kAnywhere);
            else
                share(0, m_board.practice().dead_rail_spread);
        } else if (behaviour.pulsing.empty() ? running == Running::Hiccup : behaviour.pulsing[r] != 0) {
            share(m_board.practice().hiccup_share, m_board.practice().hiccup_share_spread);
        } else {
            if (const double volts = let_through(r, faults); volts > 0)
                share(p.let_through * volts / nominal, p.let_through_spread * volts / nominal);
            else if (runs_away(m_feeds[r]))
                share(m_board.practice().regulator_spare, m_board.practice().climbed_spread);
            else if (has(m_feeds[r].regulators, {FaultMode::Low}) || held_down || moved(r, faults, LoopLoss::Falls))
                share(m_board.practice().held_down, m_board.practice().held_down_spread);
            else if (running == Running::High && moved(r, faults, LoopLoss::Climbs))
                share(m_board.practice().climbed, m_board.practice().climbed_spread);
            else if (feeds[r].left < feeds[r].whole)
                share(m_board.practice().half_fed, m_board.practice().half_fed_spread);
            const double swing = ripple(r, faults, load), healthy = ripple(r, {}, load);
            figure.ripple = swing;
            const double lost = m_feeds[r].source == Source::Reservoir ? std::max(0.0, swing - healthy) / 2 : figure.volts * (1 - holds);
            figure.volts -= lost;
            figure.sigma = std::hypot(figure.sigma, lost / 2);
        }
        figure.volts *= sign;
        out.rails.push_back(figure);
    }
    return out;
}

} // namespace ohmo
