// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/supply_switches.h"

#include "board/net_sets.h"
#include "board/nominal.h"
#include "board/roles.h"
#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

class Finder {
public:
    Finder(const Board& board, const BoardRoles& roles) : m_board(board), m_roles(roles) {}

    std::vector<SupplySwitch> find() {
        std::vector<SupplySwitch> out;
        for (int c = 0; c < static_cast<int>(m_board.parts.size()); ++c) {
            const Part& chip = m_board.part(c);
            if (!is_controller(chip.kind)) continue;
            const auto pins = chip_pins(chip);
            if (chip.net(pins.supply) < 0 || is_fixed(chip.net(pins.supply))) continue;
            const NetSet there = fed_from(chip.net(pins.supply), chip.net(pins.ground));
            for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i)
                if (const auto found = between(i, c, there)) out.push_back(*found);
        }
        return out;
    }

private:
    bool is_fixed(NetId net) const { // a rail stands on what makes it
        return std::any_of(m_board.rails.begin(), m_board.rails.end(),
                           [&](const Rail& r) { return r.net_id == net || r.return_id == net; });
    }
    bool returns(NetId net) const {
        return net == m_roles.primary_ground ||
               std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& r) { return r.return_id == net; });
    }
    bool holds(NetId net) const {
        return net == m_roles.hv || is_fixed(net) || std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& p) {
                   return is_wet_or_solid_electrolytic(p.kind) && p.touches(net);
               });
    }

    // Back from a supply pin over small resistors, coils and diodes.
    NetSet fed_from(NetId supply, NetId ground) const {
        NetSet out(m_board.nets.size(), 0);
        out[static_cast<std::size_t>(supply)] = 1;
        for (bool grown = true; grown;) {
            grown = false;
            for (const auto& part : m_board.parts) {
                NetId from = -1, to = -1;
                if (part.kind == PartKind::Diode || part.kind == PartKind::Schottky) {
                    from = part.net("A"), to = part.net("K");
                } else if (passes(part)) {
                    from = part.pins[0].id, to = part.pins[1].id;
                    if (within(out, from)) std::swap(from, to);
                }
                if (from < 0 || from == ground || returns(from) || is_fixed(from) || within(out, from) || !within(out, to)) continue;
                out[static_cast<std::size_t>(from)] = 1;
                grown = true;
            }
        }
        return out;
    }

    bool passes(const Part& part) const {
        if (part.kind == PartKind::Inductor || part.kind == PartKind::Fuse) return true;
        if (!is_resistor_like(part.kind)) return false;
        const auto value = likely_value(part);
        return value && value->ohms && *value->ohms <= m_board.practice().supply_path_ohms;
    }

    std::optional<SupplySwitch> between(int i, int chip, const NetSet& there) const {
        const Part& part = m_board.part(i);
        if (!is_switch_device(part.kind) || m_roles.is_power_device(i) || m_roles.is_leg(i) || m_roles.is_pass(i)) return std::nullopt;
        const SwitchEnds ends = switch_ends(part);
        const bool at_high = within(there, ends.high);
        if (ends.high < 0 || ends.low < 0 || ends.control < 0 || at_high == within(there, ends.low) || within(there, ends.control))
            return std::nullopt;
        const NetId from = at_high ? ends.low : ends.high, to = at_high ? ends.high : ends.low;
        if (returns(from) || !holds(from)) return std::nullopt;
        if (part.kind == PartKind::BjtNpn && at_high) return std::nullopt; // its emitter is not where current comes in
        if (part.kind == PartKind::BjtPnp && !at_high) return std::nullopt;
        SupplySwitch out{i, chip, from, to, {}, {}};
        find_drive(ends.control, ends.low, at_high, out);
        return out;
    }

    // What pulls its control away from the end that it is held off against; of a follower also what ties it down.
    void find_drive(NetId control, NetId held_off, bool pulled_down, SupplySwitch& out) const {
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& part = m_board.part(i);
            if (i == out.part || !part.touches(control)) continue;
            if (is_resistor_like(part.kind)) {
                const NetId far = part.pins[0].id == control ? part.pins[1].id : part.pins[0].id;
                if (far == held_off) continue;
                out.open_stops.push_back(i);
                if (far != out.from && !returns(far)) turned_on_by(far, out);
            } else if (part.kind == PartKind::Optocoupler) {
                with_its_light(i, out);
            } else if (is_switch_device(part.kind)) {
                if (switch_ends(part).high == control) (pulled_down ? out.open_stops : out.short_stops).push_back(i);
            } else if (!pulled_down && (part.kind == PartKind::Zener || is_capacitor(part.kind))) {
                out.short_stops.push_back(i);
            }
        }
    }

    void turned_on_by(NetId net, SupplySwitch& out) const {
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& part = m_board.part(i);
            if (i == out.part || !part.touches(net)) continue;
            if (part.kind == PartKind::Optocoupler) with_its_light(i, out);
            if (is_switch_device(part.kind) && switch_ends(part).high == net) out.open_stops.push_back(i);
        }
    }

    void with_its_light(int coupler, SupplySwitch& out) const {
        out.open_stops.push_back(coupler);
        const Part& part = m_board.part(coupler);
        for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
            const Part& before = m_board.part(i);
            const auto lights = [&](NetId net) { return net >= 0 && !returns(net) && !is_fixed(net) && before.touches(net); };
            const bool across = before.touches(part.net("A")) && before.touches(part.net("K"));
            if (is_resistor_like(before.kind) && !across && (lights(part.net("A")) || lights(part.net("K")))) out.open_stops.push_back(i);
        }
    }

    const Board& m_board;
    const BoardRoles& m_roles;
};

bool among(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

} // namespace

bool SupplySwitch::off(const std::vector<Fault>& faults) const {
    return std::any_of(faults.begin(), faults.end(), [&](const Fault& f) {
        if (f.part == part) return f.mode == FaultMode::Open || f.mode == FaultMode::DryJoint;
        if (among(open_stops, f.part) && (f.mode == FaultMode::Open || f.mode == FaultMode::Weak)) return true;
        return among(short_stops, f.part) && (f.mode == FaultMode::Short || f.mode == FaultMode::CeShort || f.mode == FaultMode::DsShort);
    });
}

std::vector<SupplySwitch> find_supply_switches(const Board& board, const BoardRoles& roles) { return Finder(board, roles).find(); }

} // namespace ohmo
