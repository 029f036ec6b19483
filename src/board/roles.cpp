// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/roles.h"

#include "board/driving.h"
#include "board/droppers.h"
#include "board/mains_side.h"
#include "board/nominal.h"
#include "board/series_switches.h"
#include "board/switch_ends.h"
#include "board/way_in.h"

#include <algorithm>
#include <map>
#include <numbers>
#include <numeric>
#include <tuple>

namespace ohmo {
namespace {

bool is_supply_return(const Board& board, NetId net) {
    return std::any_of(board.rails.begin(), board.rails.end(), [&](const Rail& r) { return r.return_id == net; });
}

// The ends of what conducts inside.
std::vector<NetId> ends_of(const Part& part) {
    const auto chip = chip_pins(part);
    std::vector<NetId> out = part.kind == PartKind::IntegratedSwitch ? std::vector{part.net(chip.high), part.net(chip.low)}
                                                                     : std::vector{switch_ends(part).high, switch_ends(part).low};
    std::erase(out, -1);
    return out;
}

bool switches_power(PartKind kind) { return is_switch_device(kind) || kind == PartKind::IntegratedSwitch; }

// By net: whether an inductor that does not only filter, or a winding that drives no gate, ends there.
std::vector<char> wound_nets(const Board& board) {
    std::vector<char> out(board.nets.size(), 0);
    for (const auto& part : board.parts) {
        const bool coil = part.kind == PartKind::Inductor && part.stage != "filter" && part.stage != "mains-in";
        const bool windings = part.kind == PartKind::Transformer && !drives_gates(board, part);
        for (const auto& pin : part.pins)
            if (coil || windings) out[static_cast<std::size_t>(pin.id)] = 1;
    }
    return out;
}

// A capacitor that lifts a chip's supply above what a switch and a coil share: filled through a diode from a supply that stands still.
bool rides_on_the_switch(const Board& board, const Part& capacitor, const std::vector<char>& wound) {
    const NetId plus = capacitor.net("+");
    const auto still = [&](NetId net) { return net >= 0 && wound[static_cast<std::size_t>(net)] == 0; };
    return still(plus) &&
           std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) { return is_controller(p.kind) && p.touches(plus); }) &&
           std::any_of(board.parts.begin(), board.parts.end(),
                       [&](const Part& p) { return is_diode_like(p.kind) && p.net("K") == plus && still(p.net("A")); });
}

// Nets that reach this one through an ohm or so, a fuse, a contact.
std::vector<NetId> stiff_with(const Board& board, NetId net) {
    std::vector<NetId> out = {net};
    const auto add = [&](NetId a, NetId b) {
        const bool has_a = std::find(out.begin(), out.end(), a) != out.end(), has_b = std::find(out.begin(), out.end(), b) != out.end();
        if (has_a != has_b) out.push_back(has_a ? b : a);
        return has_a != has_b;
    };
    for (bool grown = true; grown;) {
        grown = false;
        for (const auto& part : board.parts) {
            bool low = false;
            if (is_resistor_like(part.kind))
                if (const auto value = likely_value(part)) low = value->ohms.value_or(1e9) <= board.practice().sense_ohms;
            const bool through = part.kind == PartKind::Fuse || part.kind == PartKind::Track;
            if ((low || through) && part.pins.size() == 2) grown = add(part.pins[0].id, part.pins[1].id) || grown;
            if (part.kind != PartKind::Connector && part.kind != PartKind::Switch) continue;
            for (const auto& [p, q] : part.pairs()) grown = add(p->id, q->id) || grown;
        }
    }
    return out;
}

// By net: a rail or its return, an end of the bulk capacitor, or whatever else has a reservoir on it. A polarised capacitor from what a
// switch and an inductor share to another inductor couples them; one that feeds the driver of the switch rides on that net.
std::vector<char> supplies(const Board& board, const BoardRoles& t) {
    std::vector<char> out(board.nets.size(), 0);
    const auto mark = [&](NetId net) {
        if (net >= 0) out[static_cast<std::size_t>(net)] = 1;
    };
    for (const auto& rail : board.rails) {
        mark(rail.net_id);
        mark(rail.return_id);
    }
    mark(t.hv);
    mark(t.primary_ground);
    for (const auto& part : board.parts) // what a low-voltage board is fed with, up to the first coil
        if (!board.mains && part.kind == PartKind::Connector)
            for (const auto& [outside, inside] : part.pairs())
                if (std::find(t.inlet.begin(), t.inlet.end(), outside->id) != t.inlet.end())
                    for (NetId net : stiff_with(board, inside->id)) mark(net);
    const auto known = out, wound = wound_nets(board);
    const auto switched = [&](NetId net) {
        return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
            const auto ends = switches_power(p.kind) ? ends_of(p) : std::vector<NetId>{};
            return std::find(ends.begin(), ends.end(), net) != ends.end();
        });
    };
    for (const auto& part : board.parts) {
        if (!is_wet_or_solid_electrolytic(part.kind)) continue;
        const NetId plus = part.net("+"), minus = part.net("-");
        const bool loose =
            plus >= 0 && minus >= 0 && known[static_cast<std::size_t>(plus)] == 0 && known[static_cast<std::size_t>(minus)] == 0;
        if (loose && wound[static_cast<std::size_t>(plus)] != 0 && wound[static_cast<std::size_t>(minus)] != 0 && switched(plus)) continue;
        if (loose && wound[static_cast<std::size_t>(minus)] != 0 && switched(minus) && rides_on_the_switch(board, part, wound)) {
            mark(plus);
            continue;
        }
        for (const auto& pin : part.pins) mark(pin.id);
    }
    return out;
}

// The one that carries the power: it feeds the rectifiers of the rails, and most of the switches are on it. Of those alike the first.
void find_transformer(const Board& board, const std::vector<char>& supply, BoardRoles& t) {
    std::tuple<bool, std::ptrdiff_t, bool> most{};
    int found = -1;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (part.kind != PartKind::Transformer || part.pairs().size() < 2) continue;
        const auto switched = std::count_if(board.parts.begin(), board.parts.end(), [&](const Part& p) {
            const auto ends = switches_power(p.kind) ? ends_of(p) : std::vector<NetId>{};
            return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) {
                return pin.role.front() == 'P' && supply[static_cast<std::size_t>(pin.id)] == 0 &&
                       std::find(ends.begin(), ends.end(), pin.id) != ends.end();
            });
        });
        const std::tuple speaks_for{feeds_rails(board, part), switched, !drives_gates(board, part)};
        if (found >= 0 && speaks_for <= most) continue;
        most = speaks_for;
        found = i;
    }
    // Without a bulk capacitor nothing but the line itself can drive a transformer on mains.
    (board.mains && t.bulk.empty() ? t.line_transformer : t.transformer) = found;
}

// Of a primary winding's nets, those that carry its current too: behind an inductor, a capacitor that blocks direct current, a winding of
// another transformer, a resistor that senses. Not a supply.
void follow_the_current(const Board& board, const std::vector<char>& supply, const BoardRoles& t, std::vector<NetId>& nets) {
    const auto carries = [&](const Part& part) {
        const auto value = likely_value(part);
        return part.kind == PartKind::Inductor ||
               (part.kind == PartKind::Film && value && value->farads.value_or(0) >= board.practice().blocking_farads) ||
               (part.kind == PartKind::Resistor && value && value->ohms && *value->ohms <= board.practice().sense_ohms);
    };
    const auto add = [&](NetId net) {
        if (net >= 0 && supply[static_cast<std::size_t>(net)] == 0 && std::find(nets.begin(), nets.end(), net) == nets.end())
            nets.push_back(net);
    };
    for (std::size_t k = 0; k < nets.size(); ++k)
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& part = board.part(i);
            if (!part.touches(nets[k]) || i == t.transformer) continue;
            if (carries(part)) add(other_end(part, nets[k]));
            if (part.kind == PartKind::Transformer)
                for (const auto& [a, b] : part.pairs())
                    if (a != nullptr && b != nullptr && (a->id == nets[k] || b->id == nets[k])) add(a->id == nets[k] ? b->id : a->id);
        }
}

// Where an inductor lets go its current into a rail through a diode: of a converter that steps up, or turns the sign.
std::vector<NetId> lifted_nets(const Board& board) {
    std::vector<NetId> out;
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Diode && part.kind != PartKind::Schottky) continue;
        for (const auto& rail : board.rails) {
            if (part.net(rail.volts < 0 ? "A" : "K") != rail.net_id) continue;
            const NetId net = part.net(rail.volts < 0 ? "K" : "A");
            const bool coil = std::any_of(board.parts.begin(), board.parts.end(),
                                          [&](const Part& p) { return p.kind == PartKind::Inductor && p.touches(net); });
            if (net >= 0 && coil && std::find(out.begin(), out.end(), net) == out.end()) out.push_back(net);
        }
    }
    return out;
}

// What a capacitor between two inductors hands on: there the switch is on one side of it and the rectifier on the other.
std::vector<NetId> handed_on(const Board& board, const std::vector<char>& supply, const std::vector<NetId>& nets) {
    std::vector<NetId> out;
    for (NetId net : nets)
        for (const auto& part : board.parts) {
            if (!is_capacitor(part.kind) || net < 0 || !part.touches(net)) continue;
            const NetId far = other_end(part, net);
            const bool coil = std::any_of(board.parts.begin(), board.parts.end(),
                                          [&](const Part& p) { return p.kind == PartKind::Inductor && p.touches(far); });
            if (far >= 0 && coil && supply[static_cast<std::size_t>(far)] == 0 && std::find(out.begin(), out.end(), far) == out.end())
                out.push_back(far);
        }
    return out;
}

void find_switches(const Board& board, const std::vector<char>& supply, BoardRoles& t) {
    std::vector<NetId> nets; // of primary windings, or between an inductor to a rail and a switch
    if (t.transformer >= 0)
        for (const auto& pin : board.part(t.transformer).pins) // a winding's other end stands where it is fed, or resets to
            if (pin.role.front() == 'P' && pin.id >= 0 && supply[static_cast<std::size_t>(pin.id)] == 0) nets.push_back(pin.id);
    if (t.transformer >= 0) follow_the_current(board, supply, t, nets);
    if (t.transformer < 0 && t.line_transformer < 0)
        for (const auto& part : board.parts)
            if (part.kind == PartKind::Inductor)
                for (const auto& rail : board.rails)
                    if (part.touches(rail.net_id)) nets.push_back(other_end(part, rail.net_id));
    if (t.transformer < 0 && t.line_transformer < 0 && nets.empty()) nets = lifted_nets(board);
    const auto switched = [&](NetId net) {
        return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& p) {
            return (is_switch_device(p.kind) || p.kind == PartKind::IntegratedSwitch) &&
                   (switch_ends(p).high == net || switch_ends(p).low == net);
        });
    };
    if (t.transformer < 0 && t.line_transformer < 0 && std::none_of(nets.begin(), nets.end(), switched)) {
        const auto beyond = handed_on(board, supply, nets);
        nets.insert(nets.end(), beyond.begin(), beyond.end());
        if (std::none_of(nets.begin(), nets.end(), switched)) nets = lifted_nets(board); // beside a chip that steps down by itself
    }
    std::vector<int> lower, upper;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_switch_device(part.kind) && part.kind != PartKind::IntegratedSwitch) continue;
        const auto on = [&](NetId net) { return net >= 0 && std::find(nets.begin(), nets.end(), net) != nets.end(); };
        const NetId drain = switch_ends(part).high, source = switch_ends(part).low;
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
    t.drain = switch_ends(part).high;
    t.source = switch_ends(part).low;
    t.gate = switch_ends(part).control;
}

// What switches a winding or an inductor, in whatever converter: a boost stage before the main one, a standby supply, a rectifier that is
// switched, a regulator behind it. A net with a reservoir on it is a supply and switches nothing; what only filters is none either.
void find_power_devices(const Board& board, const std::vector<char>& supply, BoardRoles& t) {
    t.power_devices = t.switches;
    const auto wound = wound_nets(board);
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!switches_power(part.kind) || t.is_switch(i) || t.is_pass(i)) continue;
        const auto ends = ends_of(part);
        if (std::any_of(ends.begin(), ends.end(),
                        [&](NetId net) { return wound[static_cast<std::size_t>(net)] != 0 && supply[static_cast<std::size_t>(net)] == 0; }))
            t.power_devices.push_back(i);
    }
}

void find_step_chips(const Board& board, const std::vector<char>& supply, BoardRoles& t) {
    const auto wound = wound_nets(board);
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& chip = board.part(i);
        if (!is_controller(chip.kind)) continue;
        auto ends = chip.kind == PartKind::IntegratedSwitch ? ends_of(chip) : std::vector<NetId>{};
        for (const auto pin : chip_outputs(chip)) ends.push_back(chip.net(pin));
        StepChip found{i, {}};
        for (NetId net : ends) {
            const auto n = static_cast<std::size_t>(net);
            if (wound[n] != 0 && supply[n] == 0 && std::find(found.nodes.begin(), found.nodes.end(), net) == found.nodes.end())
                found.nodes.push_back(net);
        }
        if (!found.nodes.empty()) t.step_chips.push_back(std::move(found));
    }
}

// One switch above another, the upper at a reservoir: whatever hangs between them. Not the two that drive a converter, which are known.
void find_legs(const Board& board, BoardRoles& t) {
    const auto stores = [&](NetId net) {
        return net >= 0 && std::any_of(board.parts.begin(), board.parts.end(),
                                       [&](const Part& p) { return p.kind == PartKind::Electrolytic && p.net("+") == net; });
    };
    std::vector<int> free;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (is_switch_device(board.part(i).kind) && !t.is_switch(i)) free.push_back(i);
    for (int upper : free)
        for (int lower : free) {
            const Part &above = board.part(upper), &below = board.part(lower);
            const NetId middle = switch_ends(above).low;
            if (upper == lower || middle < 0 || middle != switch_ends(below).high || !stores(switch_ends(above).high)) continue;
            for (int i : {upper, lower})
                if (std::find(t.legs.begin(), t.legs.end(), i) == t.legs.end()) t.legs.push_back(i);
        }
}

// Where energy is waiting: a reservoir, a rectifier, a winding, the way in.
bool holds_energy(const Board& board, const std::vector<NetId>& nets) {
    return std::any_of(board.parts.begin(), board.parts.end(), [&](const Part& part) {
        const bool kind = is_wet_or_solid_electrolytic(part.kind) || is_diode_like(part.kind) || part.kind == PartKind::Bridge ||
                          part.kind == PartKind::Transformer || part.kind == PartKind::Connector;
        return kind && std::any_of(nets.begin(), nets.end(), [&](NetId net) { return part.touches(net); });
    });
}

// Bipolar transistors between stored energy and a rail: the emitter, or for one of the other polarity the collector, reaches it.
void find_pass(const Board& board, BoardRoles& t) {
    std::vector<char> pass(board.parts.size(), 0);
    for (const auto& rail : board.rails) {
        const auto nets = stiff_with(board, rail.net_id);
        const auto reaches = [&](NetId net) { return std::find(nets.begin(), nets.end(), net) != nets.end(); };
        for (std::size_t i = 0; i < board.parts.size(); ++i) {
            const auto& part = board.parts[i];
            if ((part.kind != PartKind::BjtNpn && part.kind != PartKind::BjtPnp) || t.is_switch(static_cast<int>(i))) continue;
            const bool emitter = reaches(part.net("E")), collector = reaches(part.net("C")), base = reaches(part.net("B"));
            const bool other = (part.kind == PartKind::BjtPnp) == (rail.volts > 0);
            if (base || emitter == collector || !(emitter || other)) continue;
            if (holds_energy(board, stiff_with(board, part.net(emitter ? "C" : "E")))) pass[i] = 1;
        }
    }
    for (std::size_t i = 0; i < board.parts.size(); ++i)
        if (pass[i] != 0) t.pass.push_back(static_cast<int>(i));
}

void find_way_in(const Board& board, BoardRoles& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (part.kind == PartKind::Bridge) t.bridges.push_back(i);
        if (part.stage == "rectify-out") {
            t.own_rectifiers = true;
            if (is_diode_like(part.kind) || part.kind == PartKind::Bridge) t.rectifiers.push_back(i);
        }
        if (is_input_fuse(part)) t.input_fuses.push_back(i);
        if (part.stage == "mains-in" && part.kind == PartKind::Connector && t.inlet.empty() && part.pairs().size() >= 2)
            for (const auto& [outside, inside] : part.pairs()) t.inlet.push_back(outside->id);
    }
    if (t.inlet.empty()) t.inlet = loose_contacts(board);
}

// Behind a line transformer a reservoir is none, whatever its stage is called; on a board without stages its volts tell.
bool is_bulk(const Board& board, const Part& part, const std::vector<char>& mains) {
    if (part.kind != PartKind::Electrolytic) return false;
    const bool rated = part.volts.value_or(0) >= board.practice().line_volts;
    if (part.stage.empty()) return board.mains && rated;
    if (part.stage != "bulk") return false;
    const bool known = std::find(mains.begin(), mains.end(), 1) != mains.end();
    return !known || rated || !part.volts ||
           std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) { return mains[static_cast<std::size_t>(pin.id)] != 0; });
}

// The outer ends: stacked capacitors meet in the middle.
void find_bulk(const Board& board, BoardRoles& t) {
    const auto mains = nets_on_mains(board);
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i)
        if (is_bulk(board, board.part(i), mains)) t.bulk.push_back(i);
    const auto meets = [&](NetId net, const char* role) {
        return std::any_of(t.bulk.begin(), t.bulk.end(), [&](int i) { return board.part(i).net(role) == net; });
    };
    for (int i : t.bulk) {
        const auto& part = board.part(i);
        if (t.hv < 0 && !meets(part.net("+"), "-")) t.hv = part.net("+");
        if (t.primary_ground < 0 && !meets(part.net("-"), "+")) t.primary_ground = part.net("-");
        t.stacked = t.stacked || meets(part.net("+"), "-");
    }
}

void find_totem_poles(const Board& board, BoardRoles& t) {
    for (int a : t.switches)
        for (int b : t.switches) {
            const auto &one = board.part(a), &other = board.part(b);
            if (a != b && (switch_ends(one).low == switch_ends(other).high || switch_ends(one).high == switch_ends(other).low))
                t.totem_poles.emplace_back(a, b);
        }
}

// Of the converter that feeds the rails: a switch with its chip in one case, what drives the switch; else the first there is.
void find_controller(const Board& board, BoardRoles& t) {
    const NetId control = t.power_switch < 0 ? -1 : switch_ends(board.part(t.power_switch)).control;
    if (t.power_switch >= 0 && is_controller(board.part(t.power_switch).kind)) t.controller = t.power_switch;
    for (const bool surely : {true, false})
        for (int i = 0; i < static_cast<int>(board.parts.size()) && t.controller < 0; ++i)
            if (is_controller(board.part(i).kind) && (!surely || (control >= 0 && drives(board, board.part(i), control)))) t.controller = i;
    if (t.controller < 0) return;
    const auto& chip = board.part(t.controller);
    const auto pins = chip_pins(chip);
    t.supply = pins.own_supply ? chip.net(pins.supply) : -1;
}

// What stands on a gate or base, on the controller's supply, output and soft start, and below the switch.
void find_drive(const Board& board, BoardRoles& t) {
    std::vector<NetId> gates, sources;
    for (int i : t.switches) {
        const auto& part = board.part(i);
        if (const NetId gate = switch_ends(part).control; gate >= 0) gates.push_back(gate);
        sources.push_back(switch_ends(part).low);
    }
    const auto is_source = [&](NetId net) {
        return net == t.primary_ground || is_supply_return(board, net) || std::find(sources.begin(), sources.end(), net) != sources.end();
    };
    const NetId output = t.controller < 0 ? -1 : board.part(t.controller).net("DRV"),
                slow = t.controller < 0 ? -1 : board.part(t.controller).net("SS");
    std::vector<NetId> clocked;
    if (t.controller >= 0) {
        clocked.push_back(chip_boost(board.part(t.controller)));
        for (const char* pin : {"RT", "CT", "RC", "RTCT", "OSC"}) clocked.push_back(board.part(t.controller).net(pin));
    }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (i == t.transformer || i == t.controller || t.is_switch(i)) continue;
        if (is_wet_or_solid_electrolytic(part.kind) && part.touches(t.supply)) t.supply_capacitors.push_back(i);
        if (is_capacitor(part.kind) && slow >= 0 && part.touches(slow)) t.soft_start.push_back(i);
        const bool clocks = std::any_of(clocked.begin(), clocked.end(), [&](NetId net) { return net >= 0 && part.touches(net); });
        if (clocks && (is_capacitor(part.kind) || is_resistor_like(part.kind) || is_diode_like(part.kind))) t.clocking.push_back(i);
        const auto nominal = likely_value(part);
        if (is_resistor_like(part.kind) && part.touches(t.source) && part.touches(t.primary_ground) && nominal &&
            nominal->ohms.value_or(1e9) <= board.practice().sense_ohms)
            t.sense.push_back(i);
        const auto driven = std::find_if(gates.begin(), gates.end(), [&](NetId gate) { return part.touches(gate); });
        if (part.kind == PartKind::Transformer || (driven == gates.end() && (output < 0 || !part.touches(output)))) continue;
        t.drive.push_back(i);
        if (driven == gates.end() || !is_source(other_end(part, *driven))) t.drive_path.push_back(i);
    }
}

// A clamp: a diode on the drain whose far side is neither the supply nor ground, and the capacitors on that far side.
void find_snubber(const Board& board, BoardRoles& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_diode_like(part.kind) || !part.touches(t.drain)) continue;
        const NetId clamp = other_end(part, t.drain);
        if (clamp == t.hv || clamp == t.primary_ground) continue;
        t.snubber.push_back(i);
        for (int k = 0; k < static_cast<int>(board.parts.size()); ++k)
            if (k != i && board.part(k).touches(clamp) && is_capacitor(board.part(k).kind)) t.snubber.push_back(k);
    }
}

// Electrolytics in or beside the drive path.
void find_drive_capacitors(const Board& board, BoardRoles& t) {
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (part.kind != PartKind::Electrolytic || (part.stage != "control" && part.stage != "feedback")) continue;
        const bool drives = std::any_of(t.drive_path.begin(), t.drive_path.end(), [&](int d) {
            const auto& other = board.part(d);
            const auto shared = [&](NetId net) { return net != t.primary_ground && net != t.hv && part.touches(net); };
            return d == i || (is_resistor_like(other.kind) && (shared(other.pins[0].id) || shared(other.pins[1].id)));
        });
        if (drives) t.drive_capacitors.push_back(i);
    }
}

bool holds(const std::vector<int>& parts, int part) { return std::find(parts.begin(), parts.end(), part) != parts.end(); }

} // namespace

double bulk_farads(const Board& board, const BoardRoles& t) {
    double sum = 0, inverse = 0;
    for (int i : t.bulk) {
        const auto n = likely_value(board.part(i));
        const double farads = n && n->farads ? *n->farads : 100e-6;
        sum += farads;
        inverse += 1 / farads;
    }
    return t.stacked ? 1 / inverse : sum;
}

double bulk_volts(const Board& board, const BoardRoles& t) {
    if (t.bulk.empty()) return 0;
    if (board.mains) return std::numbers::sqrt2 * board.mains->volts;
    for (const auto& rail : board.rails)
        if (rail.net_id == t.hv) return std::fabs(rail.volts);
    const auto n = likely_value(board.part(t.bulk.front()));
    return 0.8 * (n ? n->volts.value_or(0) : 0);
}

double running_bulk_volts(const Board& board, const BoardRoles& t) {
    if (t.droppers.empty() || t.bulk.empty()) return bulk_volts(board, t);
    for (const auto& rail : board.rails)
        if (rail.net_id == t.hv) return std::fabs(rail.volts);
    const auto n = likely_value(board.part(t.bulk.front()));
    return n && n->volts ? 0.8 * *n->volts : bulk_volts(board, t);
}

bool BoardRoles::is_switch(int part) const { return holds(switches, part); }
bool BoardRoles::is_power_device(int part) const { return holds(power_devices, part); }
bool BoardRoles::is_leg(int part) const { return holds(legs, part); }
bool BoardRoles::is_pass(int part) const { return holds(pass, part); }

// The way of the energy leads through them, once they are known.
void find_what_drops(const Board& board, BoardRoles& t) {
    t.droppers = find_droppers(board, t.path, dropper_goals(board, t));
    if (!t.droppers.empty()) t.path = PowerPath(board, t);
}

// Likewise; one behind the other.
void find_series(const Board& board, BoardRoles& t) {
    for (auto more = find_series_switches(board, t); !more.empty(); more = find_series_switches(board, t)) {
        t.series_switches.insert(t.series_switches.end(), more.begin(), more.end());
        t.path = PowerPath(board, t);
    }
}

BoardRoles find_roles(const Board& board) {
    BoardRoles t;
    t.rails_on_mains = rails_on_mains(board);
    for (const auto& rail : board.rails) t.input_watts += rail.watts() / board.practice().efficiency;
    find_way_in(board, t);
    find_bulk(board, t);
    const auto supply = supplies(board, t);
    find_transformer(board, supply, t);
    find_switches(board, supply, t);
    find_legs(board, t);
    find_totem_poles(board, t);
    find_pass(board, t);
    find_power_devices(board, supply, t);
    find_step_chips(board, supply, t);
    find_controller(board, t);
    find_drive(board, t);
    find_snubber(board, t);
    find_drive_capacitors(board, t);
    t.twins = find_twins(board);
    for (const auto& part : board.parts) t.lead_pairs.push_back(find_lead_pairs(board, part));
    t.ways = SeriesWays(board);
    t.supply_switches = find_supply_switches(board, t);
    t.path = PowerPath(board, t);
    find_what_drops(board, t);
    find_series(board, t);
    t.loop = find_feedback_loop(board, t.path);
    t.branch_fuses = find_branch_fuses(board, t.path, t.power_devices);
    t.line_windings = find_line_windings(board, t.path, t.line_transformer);
    t.step_downs = find_step_downs(board, t);
    return t;
}

std::vector<std::vector<int>> find_twins(const Board& board) {
    std::vector<NetId> joined(board.nets.size()); // towards the net that stands for all that windings join to it
    std::iota(joined.begin(), joined.end(), 0);
    const auto root = [&](NetId net) {
        while (joined[static_cast<std::size_t>(net)] != net) net = joined[static_cast<std::size_t>(net)];
        return net;
    };
    for (const auto& part : board.parts) {
        if (part.kind != PartKind::Transformer && part.kind != PartKind::Choke && part.kind != PartKind::Inductor) continue;
        for (const auto& [a, b] : part.pairs()) joined[static_cast<std::size_t>(root(a->id))] = root(b->id);
    }
    std::map<LeadPair, std::vector<int>> between;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& part = board.part(i);
        if (!is_diode_like(part.kind)) continue;
        const NetId anode = root(part.net("A")), cathode = root(part.net("K"));
        if (anode != cathode) between[{anode, cathode}].push_back(i); // else a winding lies across it and hides it, twin or none
    }
    std::vector<std::vector<int>> out(board.parts.size());
    for (const auto& [ends, diodes] : between)
        for (int i : diodes)
            for (int other : diodes)
                if (other != i) out[static_cast<std::size_t>(i)].push_back(other);
    return out;
}

} // namespace ohmo
