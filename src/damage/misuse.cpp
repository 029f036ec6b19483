// SPDX-License-Identifier: GPL-3.0-or-later
// Factors are common practice, no source: solid tantalum fails with the square of its share of the rated volts beyond one half; a volt
// backwards for long vents an aluminium capacitor; resistors that stand more than 100 V for years drift high and open;
// a leak of a megohm is a fault where microamperes charge the capacitor, and none elsewhere.
#include "damage/misuse.h"

#include "board/nominal.h"
#include "circuit/dc_solver.h"
#include "circuit/transient.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

bool shorts(FaultMode mode) { return mode == FaultMode::Short || mode == FaultMode::Leaky; }

// Volts + to - across every polarised capacitor after a direct supply has been on.
void with_direct_supply(const Board& board, NetId plus, NetId minus, double volts, std::vector<ServiceStress>& out,
                        const CancelToken& cancel) {
    TransientOptions options;
    options.longest_step = 0.1;
    options.volts = 0.05;
    options.amps = 0.01;
    options.relative = 0.02;
    const auto& p = board.practice();
    Transient run(expand(board, {}, {}), {{plus, minus, p.adapter_ohms, volts, 0, 0, 0}}, options);
    while (run.now() < p.adapter_seconds * (1 - 1e-9)) {
        if (cancel.cancelled() || !run.step(p.adapter_seconds)) return;
    }
    for (std::size_t i = 0; i < board.parts.size(); ++i)
        if (is_wet_or_solid_electrolytic(board.parts[i].kind))
            out[i].reverse_volts = std::max(out[i].reverse_volts, -run.volts(board.parts[i].net("+"), board.parts[i].net("-")));
}

// With the bulk capacitor at its crest: two-point resistances of the network with junctions off.
void resistor_volts(const Board& board, const BoardRoles& t, std::vector<ServiceStress>& out) {
    if (t.hv < 0 || !board.mains) return;
    Netlist running = expand(board, {}, {});
    for (std::size_t i = 0; i < board.parts.size(); ++i) { // a running chip holds its supply pin near ground
        const auto& part = board.parts[i];
        const NetId supply = part.net(chip_pins(part).supply), ground = part.net(chip_pins(part).ground);
        if (is_controller(part.kind) && supply >= 0 && ground >= 0 && supply != ground)
            running.resistors.push_back({supply, ground, 1e3, 0.1, static_cast<int>(i)});
    }
    const DcSolver solver(std::move(running));
    const auto ohms = [&](NetId a, NetId b) {
        return a == b ? 0.0 : solver.connected(a, b) ? solver.solve(a, b, 1e-9, DcDetail::Volts).volts / 1e-9 : 1e9;
    };
    const double across = ohms(t.hv, t.primary_ground);
    const auto share = [&](NetId net) {
        return solver.connected(net, t.hv) ? (across + ohms(net, t.primary_ground) - ohms(net, t.hv)) / (2 * across) : 0.0;
    };
    for (std::size_t i = 0; i < board.parts.size(); ++i)
        if (board.parts[i].kind == PartKind::Resistor)
            out[i].volts = std::fabs(share(board.parts[i].pins[0].id) - share(board.parts[i].pins[1].id)) * running_bulk_volts(board, t);
}

} // namespace

std::vector<ServiceStress> service_stresses(const Board& board, const BoardRoles& roles, const std::set<std::string>& history,
                                            const CancelToken& cancel) {
    std::vector<ServiceStress> out(board.parts.size());
    for (int i : roles.soft_start) out[static_cast<std::size_t>(i)].slow_pin = true;
    for (int i : roles.droppers) out[static_cast<std::size_t>(i)].drops_the_line = true;
    double highest = 0;
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& rail = board.rails[r];
        highest = std::max(highest, std::fabs(rail.volts));
        for (std::size_t i = 0; i < board.parts.size(); ++i) {
            const auto& part = board.parts[i];
            if (!is_capacitor(part.kind)) continue;
            const NetId live = part.pins[0].id == rail.return_id ? part.pins[1].id : part.pins[0].id;
            const bool here = (part.pins[0].id == rail.return_id || part.pins[1].id == rail.return_id) &&
                              roles.path.rail_nets(r)[static_cast<std::size_t>(live)];
            if (!here) continue;
            out[i].volts = std::max(out[i].volts, std::fabs(rail.volts));
            out[i].back_fed = history.contains("back-fed") && live == rail.net_id;
        }
    }
    resistor_volts(board, roles, out);
    if (board.mains || !(history.contains("wrong-adapter") || history.contains("reversed-polarity"))) return out;
    if (roles.inlet.size() < 2) return out;
    if (history.contains("wrong-adapter"))
        with_direct_supply(board, roles.inlet[0], roles.inlet[1], board.practice().adapter_share * highest, out, cancel);
    with_direct_supply(board, roles.inlet[0], roles.inlet[1], -board.practice().adapter_share * highest, out, cancel);
    return out;
}

double service_factor(const Practice& p, const Part& part, FaultMode mode, const ServiceStress& stress) {
    if (part.kind == PartKind::Resistor) return stress.volts > p.wears_resistors ? p.high_voltage_factor : 1;
    if (!is_capacitor(part.kind)) return 1;
    const auto nominal = likely_value(part);
    const double rated = nominal && nominal->volts ? *nominal->volts : 0;
    double factor = 1;
    if (part.kind == PartKind::Tantalum && shorts(mode) && rated > 0 && stress.volts > 0)
        factor *= std::clamp(std::pow(stress.volts / (p.tantalum_derating * rated), 2), 0.25, 6.0);
    if (stress.back_fed && is_wet_or_solid_electrolytic(part.kind)) factor *= p.back_fed_factor;
    if (mode == FaultMode::Low && stress.drops_the_line) factor *= p.dropper_wear;
    if (mode == FaultMode::Leaky && stress.slow_pin) factor *= p.slow_pin_factor;
    if (shorts(mode) && stress.reverse_volts > p.harmful_volts) factor *= p.reversed_factor;
    return factor;
}

} // namespace ohmo
