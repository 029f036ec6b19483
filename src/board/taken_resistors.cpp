// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/taken_resistors.h"

#include "board/nominal.h"
#include "board/switch_ends.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

bool holds(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

NetId far_end(const Part& part, NetId near) { return part.pins[part.pins[0].id == near ? 1 : 0].id; }

bool low_reservoir(const Part& part, const Practice& p, NetId net) {
    return is_wet_or_solid_electrolytic(part.kind) && net >= 0 && part.net("+") == net && part.volts.value_or(0) < p.taken_line_side_volts;
}

bool is_fet(PartKind kind) { return kind == PartKind::Mosfet || kind == PartKind::Igbt; }

} // namespace

TakenResistors::TakenResistors(const Board& board, const BoardRoles& roles)
    : m_board(board), m_p(board.practice()), m_roles(roles), m_feeds(find_series_feeds(board, roles)) {}

Taken TakenResistors::of(int index) const {
    const Part& part = m_board.part(index);
    const bool fusible = part.kind == PartKind::FusibleResistor;
    const Taken feed{m_p.taken_feed_ohms, m_p.taken_feed_ohms_spread};
    const bool on_bulk = part.touches(m_roles.hv), high = on_bulk && !low_volts(m_roles.hv);
    if (part.pins.size() != 2) return {m_p.unknown_resistor_ohms};
    if (joins(part, m_roles.source, m_roles.primary_ground) || carries_the_current(part))
        return {m_p.taken_sense_ohms, m_p.taken_sense_ohms_spread};
    for (const auto& series : m_feeds)
        if (series.part == index) return in_series_with(m_board.rails[static_cast<std::size_t>(series.rail)]);
    if (!high && feeds_a_chip(part)) return {m_p.taken_chip_feed_ohms, m_p.taken_chip_feed_ohms_spread};
    if (const Part* device = started_by(part)) {
        const NetId from = far_end(part, switch_ends(*device).control);
        return low_volts(from) ? Taken{m_p.taken_base_feed_ohms, m_p.taken_base_feed_ohms_spread} : feed;
    }
    if (holds(m_roles.drive_path, index) || drives_a_gate(part) || between_windings(part))
        return {m_p.taken_drive_ohms, m_p.taken_drive_ohms_spread};
    if (holds(m_roles.drive, index)) return {m_p.taken_pull_down_ohms, m_p.taken_pull_down_ohms_spread};
    if (high) return feed;
    for (const auto& rail : m_board.rails)
        if (joins(part, rail.net_id, rail.return_id))
            return {rail.volts * rail.volts / m_p.taken_rail_load_watts, m_p.taken_rail_load_watts_spread};
    if (damps(part)) return {m_p.taken_damper_ohms, m_p.taken_damper_ohms_spread};
    if (on_bulk) return feed;
    if (!fusible && (part.stage == "mains-in" || part.stage == "filter"))
        return {m_p.taken_across_mains_ohms, m_p.taken_across_mains_ohms_spread};
    return fusible ? Taken{m_p.taken_inrush_ohms, m_p.taken_inrush_ohms_spread} : Taken{m_p.unknown_resistor_ohms};
}

// A reservoir of low volts stands there, or beyond a fuse, a coil or a contact.
bool TakenResistors::low_volts(NetId net) const {
    if (net < 0) return false;
    const auto there = m_roles.path.wired_to({net}, {});
    return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& other) {
        const NetId plus = other.net("+");
        return plus >= 0 && there[static_cast<std::size_t>(plus)] != 0 && low_reservoir(other, m_p, plus);
    });
}

// Some transistor's gate or base.
bool TakenResistors::controls(NetId net) const {
    return std::any_of(m_board.parts.begin(), m_board.parts.end(),
                       [&](const Part& device) { return is_switch_device(device.kind) && switch_ends(device).control == net; });
}

// A reservoir, either of its ends, or what is known as a supply.
bool TakenResistors::stands_still(NetId net) const {
    return net == m_roles.hv || net == m_roles.primary_ground ||
           std::any_of(m_board.rails.begin(), m_board.rails.end(), [&](const Rail& r) { return net == r.net_id || net == r.return_id; }) ||
           std::any_of(m_board.parts.begin(), m_board.parts.end(),
                       [&](const Part& other) { return is_wet_or_solid_electrolytic(other.kind) && other.touches(net); });
}

// A reservoir of low volts stands there, or a diode leads to it.
bool TakenResistors::supplies(NetId net) const {
    return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& other) {
        return low_reservoir(other, m_p, net) || (is_diode_like(other.kind) && other.kind != PartKind::Zener && other.net("K") == net);
    });
}

bool TakenResistors::feeds_a_chip(const Part& part) const {
    return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& chip) {
        if (!is_controller(chip.kind)) return false;
        const NetId supply = chip.net(chip_pins(chip).supply);
        return supply >= 0 && part.touches(supply) && supplies(far_end(part, supply));
    });
}

// From a source or emitter, which is no supply itself, to a supply or on towards one: whatever the transistor passes goes through it, if it
// passes power or the resistor is made for some.
bool TakenResistors::carries_the_current(const Part& part) const {
    for (int i = 0; i < static_cast<int>(m_board.parts.size()); ++i) {
        const Part& device = m_board.part(i);
        if (!is_switch_device(device.kind)) continue;
        const NetId upper = switch_ends(device).high, lower = switch_ends(device).low;
        if (lower < 0 || stands_still(lower) || !part.touches(lower) || controls(lower)) continue; // that drives another
        const auto rated = nominal_or_none(device);
        const bool power = m_roles.is_pass(i) || m_roles.is_power_device(i) || m_roles.is_leg(i) ||
                           (rated && rated->amps.value_or(0) >= m_p.taken_power_amps);
        if (!power && part.watts.value_or(0) < m_p.taken_power_watts) continue;
        const NetId there = far_end(part, lower);
        if (there == upper || controls(there)) continue;
        const auto on = m_roles.path.wired_to({there}, {});
        for (std::size_t net = 0; net < on.size(); ++net)
            if (on[net] != 0 && stands_still(static_cast<NetId>(net))) return true;
    }
    return false;
}

// From a chip's output to a gate.
bool TakenResistors::drives_a_gate(const Part& part) const {
    const auto gate_of_fet = [&](NetId net) {
        return std::any_of(m_board.parts.begin(), m_board.parts.end(),
                           [&](const Part& device) { return is_fet(device.kind) && switch_ends(device).control == net; });
    };
    return std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& chip) {
        if (!is_controller(chip.kind)) return false;
        const auto outputs = chip_outputs(chip);
        return std::any_of(outputs.begin(), outputs.end(), [&](std::string_view pin) {
            const NetId out = chip.net(pin);
            return out >= 0 && part.touches(out) && gate_of_fet(far_end(part, out));
        });
    });
}

// From one transformer's winding to another's: it is driven through it.
bool TakenResistors::between_windings(const Part& part) const {
    const auto wound = [&](NetId net) {
        return std::find_if(m_board.parts.begin(), m_board.parts.end(),
                            [&](const Part& other) { return other.kind == PartKind::Transformer && other.touches(net); });
    };
    const auto one = wound(part.pins[0].id), other = wound(part.pins[1].id);
    return one != m_board.parts.end() && other != m_board.parts.end() && one != other;
}

// In series with a capacitor and nothing else, across a rectifier, a transistor, a coil or a winding.
bool TakenResistors::damps(const Part& part) const {
    for (const auto& pin : part.pins) {
        const Part* capacitor = nullptr;
        int others = 0;
        for (const auto& other : m_board.parts)
            if (&other != &part && other.touches(pin.id)) {
                ++others;
                if (other.kind == PartKind::Ceramic || other.kind == PartKind::Film) capacitor = &other;
            }
        if (others != 1 || capacitor == nullptr || capacitor->pins.size() != 2) continue;
        const NetId one = far_end(part, pin.id), other = far_end(*capacitor, pin.id);
        const bool across = std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& damped) {
            const auto ends = switch_ends(damped);
            if (is_switch_device(damped.kind)) return (one == ends.high && other == ends.low) || (other == ends.high && one == ends.low);
            const bool switches = is_diode_like(damped.kind) || damped.kind == PartKind::Transformer || damped.kind == PartKind::Inductor ||
                                  damped.kind == PartKind::IntegratedSwitch;
            return switches && joins(damped, one, other);
        });
        const bool at_a_switch = std::any_of(m_board.parts.begin(), m_board.parts.end(), [&](const Part& device) {
            return is_switch_device(device.kind) && (one == switch_ends(device).high || other == switch_ends(device).high);
        });
        if (across || (at_a_switch && (stands_still(one) || stands_still(other)))) return true;
    }
    return false;
}

// From the bulk rail, or from a switch's own collector, to its base or gate: what gets it going, not what drives it.
const Part* TakenResistors::started_by(const Part& part) const {
    for (const auto& device : m_board.parts)
        if (is_switch_device(device.kind) && (lies_across(part, device) || joins(part, switch_ends(device).control, m_roles.hv)))
            return &device;
    return nullptr;
}

// What is left of the rail at full load must do.
Taken TakenResistors::in_series_with(const Rail& rail) const {
    const double amps = rail.amps > 0 ? rail.amps : 1;
    return {m_p.taken_series_share * std::fabs(rail.volts) / amps, m_p.taken_series_share_spread};
}

} // namespace ohmo
