// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/topology.h"

#include "board/nominal.h"
#include "circuit/surge.h"

#include <algorithm>

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

void find_switch(const Board& board, Topology& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (board.part(i).kind == PartKind::Transformer && board.part(i).pairs().size() > 1 && t.transformer < 0) t.transformer = i;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_switch_device(part.kind) && part.kind != PartKind::IntegratedSwitch) continue;
        const NetId drain = part.net(part.net("D") >= 0 ? "D" : "C");
        const bool on_primary =
            t.transformer >= 0 && (drain == board.part(t.transformer).net("P1") || drain == board.part(t.transformer).net("P2"));
        if (!on_primary) continue;
        t.power_switch = i;
        t.drain = drain;
        t.source = part.net(part.net("S") >= 0 ? "S" : "E");
        t.gate = part.net(part.net("G") >= 0 ? "G" : "B");
        return;
    }
}

} // namespace

Topology find_topology(const Board& board) {
    Topology t;
    t.bulk = bulk_capacitors(board);
    if (!t.bulk.empty()) {
        t.hv = board.part(t.bulk.front()).net("+");
        t.primary_ground = board.part(t.bulk.front()).net("-");
    }
    for (const auto& rail : board.rails) t.input_watts += rail.volts * rail.amps / 0.85;
    find_switch(board, t);
    NetId output = -1;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (is_controller(board.part(i).kind) && t.controller < 0) {
            t.controller = i;
            t.supply = board.part(i).net("VCC");
            output = board.part(i).net("DRV");
        }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (i == t.power_switch || i == t.transformer || i == t.controller) continue;
        if (is_wet_or_solid_electrolytic(part.kind) && touches(part, t.supply)) t.supply_capacitors.push_back(i);
        const auto nominal = nominal_value(part);
        if (is_resistor_like(part.kind) && touches(part, t.source) && touches(part, t.primary_ground) && nominal &&
            nominal->ohms.value_or(1e9) <= 10)
            t.sense.push_back(i);
        if (t.gate >= 0 && touches(part, t.gate))
            t.drive.push_back(i);
        else if (output >= 0 && touches(part, output))
            t.drive.push_back(i);
        // A clamp: a diode on the drain whose far side is neither the supply nor ground, and what hangs on that far side.
        if (is_diode_like(part.kind) && touches(part, t.drain)) {
            const NetId clamp = other_end(part, t.drain);
            if (clamp == t.hv || clamp == t.primary_ground) continue;
            t.snubber.push_back(i);
            for (int k = 0; k < static_cast<int>(board.parts.size()); ++k)
                if (k != i && touches(board.part(k), clamp) && is_capacitor(board.part(k).kind)) t.snubber.push_back(k);
        }
    }
    return t;
}

} // namespace ohmo
