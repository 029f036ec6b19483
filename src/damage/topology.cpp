// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/topology.h"

#include "board/nominal.h"
#include "circuit/surge.h"

#include <algorithm>
#include <numbers>

namespace ohmo {
namespace {

bool touches(const Part& part, NetId net) {
    return net >= 0 && std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == net; });
}

NetId other_end(const Part& part, NetId net) {
    for (const auto& pin : part.pins)
        if (pin.id != net) return pin.id;
    return -1;
}

bool is_supply_return(const Board& board, NetId net) {
    return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return r.return_id == net; });
}

void find_transformer(const Board& board, Topology& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (board.part(i).kind == PartKind::Transformer && board.part(i).pairs().size() > 1) {
            // Without a bulk capacitor nothing but the line itself can drive a transformer on mains.
            (board.mains && t.bulk.empty() ? t.line_transformer : t.transformer) = i;
            return;
        }
}

void find_switches(const Board& board, Topology& t) {
    std::vector<NetId> nets; // of primary windings, or between an inductor to a rail and a switch
    if (t.transformer >= 0)
        for (const auto& pin : board.part(t.transformer).pins)
            if (pin.role.front() == 'P' && pin.id != t.hv) nets.push_back(pin.id);
    if (t.transformer < 0 && t.line_transformer < 0)
        for (const auto& part : board.parts)
            if (part.kind == PartKind::Inductor)
                for (const auto& rail : board.rails)
                    if (touches(part, rail.net_id)) nets.push_back(other_end(part, rail.net_id));
    std::vector<int> lower, upper;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_switch_device(part.kind) && part.kind != PartKind::IntegratedSwitch) continue;
        const auto on = [&](NetId net) { return net >= 0 && std::find(nets.begin(), nets.end(), net) != nets.end(); };
        const NetId drain = part.net(part.net("D") >= 0 ? "D" : "C"), source = part.net(part.net("S") >= 0 ? "S" : "E");
        if (on(drain))
            lower.push_back(i);
        else if (on(source))
            upper.push_back(i);
        if ((on(drain) || on(source)) && t.transformer < 0 && t.switching < 0) t.switching = on(drain) ? drain : source;
    }
    t.switches = lower;
    t.switches.insert(t.switches.end(), upper.begin(), upper.end());
    if (t.switches.empty()) return;
    t.power_switch = t.switches.front();
    const auto& part = board.part(t.power_switch);
    t.drain = part.net(part.net("D") >= 0 ? "D" : "C");
    t.source = part.net(part.net("S") >= 0 ? "S" : "E");
    t.gate = part.net(part.net("G") >= 0 ? "G" : "B");
}

// A transistor whose emitter reaches a rail through an ohm or so is in series with it.
void find_pass(const Board& board, Topology& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if ((part.kind != PartKind::BjtNpn && part.kind != PartKind::BjtPnp) ||
            std::find(t.switches.begin(), t.switches.end(), i) != t.switches.end())
            continue;
        for (const auto& rail : board.rails) {
            const NetId emitter = part.net("E");
            bool in_series = emitter == rail.net_id;
            for (const auto& between : board.parts)
                if (is_resistor_like(between.kind) && touches(between, emitter) && touches(between, rail.net_id)) {
                    const auto n = nominal_value(between);
                    in_series = in_series || (n && n->ohms.value_or(1e9) <= 10);
                }
            if (in_series) {
                t.pass.push_back(i);
                break;
            }
        }
    }
}

} // namespace

double bulk_farads(const Board& board, const Topology& t) {
    double sum = 0, inverse = 0;
    for (int i : t.bulk) {
        const auto n = nominal_value(board.part(i));
        const double farads = n && n->farads ? *n->farads : 100e-6;
        sum += farads;
        inverse += 1 / farads;
    }
    return t.stacked ? 1 / inverse : sum;
}

double bulk_volts(const Board& board, const Topology& t) {
    if (t.bulk.empty()) return 0;
    if (board.mains) return std::numbers::sqrt2 * board.mains->volts;
    for (const auto& rail : board.rails)
        if (rail.net_id == t.hv) return rail.volts;
    const auto n = nominal_value(board.part(t.bulk.front()));
    return 0.8 * (n ? n->volts.value_or(0) : 0);
}

Topology find_topology(const Board& board) {
    Topology t;
    t.bulk = bulk_capacitors(board);
    // The outer ends: stacked capacitors meet in the middle.
    const auto meets = [&](NetId net, const char* role) {
        return std::any_of(t.bulk.begin(), t.bulk.end(), [&](int i) { return board.part(i).net(role) == net; });
    };
    for (int i : t.bulk) {
        const auto& part = board.part(i);
        if (t.hv < 0 && !meets(part.net("+"), "-")) t.hv = part.net("+");
        if (t.primary_ground < 0 && !meets(part.net("-"), "+")) t.primary_ground = part.net("-");
        t.stacked = t.stacked || meets(part.net("+"), "-");
    }
    for (const auto& rail : board.rails) t.input_watts += rail.volts * rail.amps / 0.85;
    find_transformer(board, t);
    find_switches(board, t);
    find_pass(board, t);
    std::vector<NetId> gates, sources;
    for (int i : t.switches) {
        const auto& part = board.part(i);
        if (const NetId gate = part.net(part.net("G") >= 0 ? "G" : "B"); gate >= 0) gates.push_back(gate);
        sources.push_back(part.net(part.net("S") >= 0 ? "S" : "E"));
    }
    const auto is_source = [&](NetId net) {
        return net == t.primary_ground || is_supply_return(board, net) || std::find(sources.begin(), sources.end(), net) != sources.end();
    };
    NetId output = -1, slow = -1;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (is_controller(board.part(i).kind) && t.controller < 0) {
            t.controller = i;
            t.supply = board.part(i).net("VCC");
            output = board.part(i).net("DRV");
            slow = board.part(i).net("SS");
        }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (i == t.transformer || i == t.controller || std::find(t.switches.begin(), t.switches.end(), i) != t.switches.end()) continue;
        if (is_wet_or_solid_electrolytic(part.kind) && touches(part, t.supply)) t.supply_capacitors.push_back(i);
        if (is_capacitor(part.kind) && slow >= 0 && touches(part, slow)) t.soft_start.push_back(i);
        const auto nominal = nominal_value(part);
        if (is_resistor_like(part.kind) && touches(part, t.source) && touches(part, t.primary_ground) && nominal &&
            nominal->ohms.value_or(1e9) <= 10)
            t.sense.push_back(i);
        const auto driven = std::find_if(gates.begin(), gates.end(), [&](NetId gate) { return touches(part, gate); });
        if (part.kind != PartKind::Transformer && (driven != gates.end() || (output >= 0 && touches(part, output)))) {
            t.drive.push_back(i);
            if (driven == gates.end() || !is_source(other_end(part, *driven))) t.drive_path.push_back(i);
        }
        // A clamp: a diode on the drain whose far side is neither the supply nor ground, and what hangs on that far side.
        if (is_diode_like(part.kind) && touches(part, t.drain)) {
            const NetId clamp = other_end(part, t.drain);
            if (clamp == t.hv || clamp == t.primary_ground) continue;
            t.snubber.push_back(i);
            for (int k = 0; k < static_cast<int>(board.parts.size()); ++k)
                if (k != i && touches(board.part(k), clamp) && is_capacitor(board.part(k).kind)) t.snubber.push_back(k);
        }
    }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (part.kind != PartKind::Electrolytic || (part.stage != "control" && part.stage != "feedback")) continue;
        const bool drives = std::any_of(t.drive_path.begin(), t.drive_path.end(), [&](int d) {
            const auto& other = board.part(d);
            const auto shared = [&](NetId net) { return net != t.primary_ground && net != t.hv && touches(part, net); };
            return d == i || (is_resistor_like(other.kind) && (shared(other.pins[0].id) || shared(other.pins[1].id)));
        });
        if (drives) t.drive_capacitors.push_back(i);
    }
    return t;
}

} // namespace ohmo
