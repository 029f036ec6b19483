// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/converters.h"

#include "board/net_sets.h"
#include "board/switch_ends.h"

#include <algorithm>

namespace ohmo {
namespace {

bool shares(const std::vector<int>& a, const std::vector<int>& b) {
    return std::any_of(a.begin(), a.end(), [&](int i) { return std::find(b.begin(), b.end(), i) != b.end(); });
}

template <class T>
void join(std::vector<T>& to, const std::vector<T>& from) {
    for (const T& t : from)
        if (std::find(to.begin(), to.end(), t) == to.end()) to.push_back(t);
}

bool meets(const std::vector<char>& a, const std::vector<char>& b) {
    for (std::size_t i = 0; i < a.size(); ++i)
        if (a[i] != 0 && b[i] != 0) return true;
    return false;
}

void add(std::vector<char>& to, const std::vector<char>& from) {
    for (std::size_t i = 0; i < to.size(); ++i) to[i] = static_cast<char>(to[i] != 0 || from[i] != 0);
}

// Null for none and for several.
template <class T, class Is>
const T* only(const std::vector<T>& of, const Is& is) {
    const auto at = std::find_if(of.begin(), of.end(), is);
    return at == of.end() || std::any_of(at + 1, of.end(), is) ? nullptr : &*at;
}

// A supply, which nothing switches.
bool stores(const Board& board, NetId net) {
    return std::any_of(board.parts.begin(), board.parts.end(),
                       [&](const Part& p) { return is_wet_or_solid_electrolytic(p.kind) && p.touches(net); });
}

// A winding that is switched, or an inductor.
bool switched_by(const Part& magnetic, NetId net) {
    if (magnetic.kind == PartKind::Inductor) return magnetic.touches(net);
    return magnetic.kind == PartKind::Transformer &&
           std::any_of(magnetic.pins.begin(), magnetic.pins.end(), [&](const Pin& p) { return p.id == net && p.role.front() == 'P'; });
}

} // namespace

Converters::Converters(const Board& board, const BoardRoles& roles) {
    find_converters(board, roles);
    find_regulators(board, roles);
    find_chips(board, roles);
    find_rails(board, roles);
    const auto feeds = roles.path.rails({});
    const auto leaves_one = [&](const Converter& c) { // a rail that it is fed by, or that something else feeds
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            if (hangs_on(board, roles, c, r) || (c.rails[r] == 0 && feeds[r].whole > 0)) return true;
        return false;
    };
    if (m_all.size() == 1 && !m_all.front().regulates && !leaves_one(m_all.front())) m_all.clear(); // it stops with whatever is broken
    if (m_all.empty()) return;
    for (auto& c : m_all) c.needs.assign(board.rails.size(), 0);
    for (auto& c : m_all)
        for (std::size_t r = 0; r < board.rails.size(); ++r) c.needs[r] = hangs_on(board, roles, c, r);
    for (auto& c : m_all) { // and what it starves
        c.stops = c.rails;
        for (auto& other : m_all)
            if (&other != &c && winds_supply_of(board, roles, c, other)) add(c.stops, other.rails);
        pass_on(c.stops);
    }
    for (std::size_t k = 0; k < m_all.size(); ++k) { // what feeds no rail that is known may stop all of them
        if (std::none_of(m_all[k].stops.begin(), m_all[k].stops.end(), [](char c) { return c != 0; })) continue;
        for (int i : m_all[k].chips) m_of.emplace(i, k);
        for (int i : m_all[k].needed) m_of.emplace(i, k);
        for (int i : m_all[k].clocks) m_of.emplace(i, k);
        for (int i : m_all[k].magnetics)
            if (board.part(i).kind == PartKind::Inductor) m_of.emplace(i, k);
    }
    find_outputs(board, roles);
}

void Converters::pass_on(std::vector<char>& lost) const {
    for (bool grown = true; grown;) {
        const auto before = lost;
        for (const auto& c : m_all)
            if (meets(c.needs, lost)) add(lost, c.rails);
        grown = lost != before;
    }
}

const std::vector<char>* Converters::overloaded_by(const Part& part) const {
    const auto* feels = only(m_all, [&](const Converter& c) {
        return !c.regulates && std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return within(c.outputs, p.id); });
    });
    return feels == nullptr ? nullptr : &feels->stops;
}

const std::vector<char>* Converters::overloaded_by(std::size_t rail) const {
    const auto* feeds = only(m_all, [&](const Converter& c) { return !c.regulates && c.rails[rail] != 0; });
    return feeds == nullptr ? nullptr : &feeds->stops;
}

// Where a short is felt by it alone.
void Converters::find_outputs(const Board& board, const BoardRoles& roles) {
    for (auto& c : m_all) {
        c.outputs.assign(board.nets.size(), 0);
        if (c.regulates) continue;
        for (NetId net : c.nodes) c.outputs[static_cast<std::size_t>(net)] = 1;
        for (std::size_t r = 0; r < board.rails.size(); ++r)
            if (c.rails[r] != 0) add(c.outputs, roles.path.wired_to({board.rails[r].net_id}, {}));
        for (NetId back : roles.path.returns()) c.outputs[static_cast<std::size_t>(back)] = 0;
    }
}

const std::vector<char>* Converters::stopped_with(int part) const {
    const auto at = m_of.find(part);
    return at == m_of.end() ? nullptr : &m_all[at->second].stops;
}

// Devices on the same winding or inductor are one converter's.
void Converters::find_converters(const Board& board, const BoardRoles& roles) {
    std::vector<StepChip> all = roles.step_chips;
    for (int d : roles.power_devices) {
        const auto ends = switch_ends(board.part(d));
        const bool chip = std::any_of(all.begin(), all.end(), [&](const StepChip& c) { return c.part == d; });
        if (!chip) all.push_back({d, {ends.high, ends.low}});
    }
    for (const auto& [device, nets] : all) {
        Converter here;
        here.devices = here.needed = {device};
        if (is_controller(board.part(device).kind)) here.chips = {device};
        for (NetId net : nets) {
            if (net < 0) continue;
            join(here.fed_at, {net});
            if (stores(board, net) || listed(roles.path.returns(), net)) continue;
            for (int m = 0; m < static_cast<int>(board.parts.size()); ++m)
                if (switched_by(board.part(m), net)) {
                    join(here.magnetics, {m});
                    join(here.nodes, {net});
                }
        }
        if (here.magnetics.empty()) continue; // a rectifier that is switched, a leg of what it drives
        if (const auto& chip = board.part(device); is_controller(chip.kind)) {
            const auto pins = chip_pins(chip);
            for (const NetId net : {chip.net(pins.high), chip.net(pins.supply)})
                if (net >= 0) join(here.fed_at, {net});
        }
        for (int m : here.magnetics)
            for (const auto& pin : board.part(m).pins)
                if (board.part(m).kind != PartKind::Transformer || pin.role.front() == 'P') join(here.fed_at, {pin.id});
        const auto same = std::find_if(m_all.begin(), m_all.end(), [&](const Converter& c) { return shares(c.magnetics, here.magnetics); });
        if (same == m_all.end()) {
            m_all.push_back(std::move(here));
            continue;
        }
        join(same->magnetics, here.magnetics);
        join(same->devices, here.devices);
        join(same->needed, here.needed);
        join(same->chips, here.chips);
        join(same->fed_at, here.fed_at);
        join(same->nodes, here.nodes);
    }
}

// Of several rails that the line feeds: the transistors before each, what drives these, and what turns them on.
void Converters::find_regulators(const Board& board, const BoardRoles& roles) {
    if (!roles.line_fed() || board.rails.size() < 2) return;
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        Converter here;
        here.regulates = true;
        here.rails.assign(board.rails.size(), 0);
        here.rails[r] = 1;
        const auto behind = roles.path.wired_to({board.rails[r].net_id}, {});
        std::vector<NetId> controls;
        const auto take = [&](int i, NetId from) {
            join(here.devices, {i});
            join(here.fed_at, {from});
            join(controls, {switch_ends(board.part(i)).control});
        };
        for (int i : roles.pass) {
            const auto ends = switch_ends(board.part(i));
            if (within(behind, ends.high) != within(behind, ends.low)) take(i, within(behind, ends.high) ? ends.low : ends.high);
        }
        const bool pnp =
            std::any_of(here.devices.begin(), here.devices.end(), [&](int i) { return board.part(i).kind == PartKind::BjtPnp; });
        for (std::size_t known = 0; known != here.devices.size();) { // and transistors that give them their base current
            known = here.devices.size();
            for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
                const auto ends = switch_ends(board.part(i));
                if (!is_switch_device(board.part(i).kind)) continue;
                const bool follows = listed(controls, ends.low) && !listed(roles.path.returns(), ends.high);
                const bool draws = pnp && listed(controls, ends.high) && !within(behind, ends.low);
                if (follows || draws) take(i, ends.high);
            }
        }
        const auto drives = [&](const Part& part) {
            return listed(controls, switch_ends(part).high) || listed(controls, switch_ends(part).low);
        };
        std::vector<int> mains;
        for (int i : here.devices)
            if (!drives(board.part(i))) mains.push_back(i);
        for (int i : here.devices)
            if (mains.size() == 1 || drives(board.part(i))) here.needed.push_back(i);
        if (here.devices.empty()) continue;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const Part& part = board.part(i);
            if (!is_resistor_like(part.kind)) continue;
            const NetId one = part.pins[0].id, other = part.pins[1].id;
            if (listed(controls, one) == listed(controls, other)) continue;
            const NetId far = listed(controls, one) ? other : one;
            const bool holds_off =
                std::any_of(here.devices.begin(), here.devices.end(), [&](int d) { return switch_ends(board.part(d)).low == far; });
            if (!within(behind, far) && !holds_off) here.needed.push_back(i);
        }
        m_all.push_back(std::move(here));
    }
}

bool Converters::clocks(int part) const {
    return std::any_of(m_all.begin(), m_all.end(),
                       [&](const Converter& c) { return std::find(c.clocks.begin(), c.clocks.end(), part) != c.clocks.end(); });
}

bool Converters::regulates(int part) const {
    return std::any_of(m_all.begin(), m_all.end(), [&](const Converter& c) {
        return c.regulates && std::find(c.devices.begin(), c.devices.end(), part) != c.devices.end();
    });
}

// A chip drives the devices whose control its outputs reach by a resistor, a diode or nothing.
void Converters::find_chips(const Board& board, const BoardRoles& roles) {
    for (auto& c : m_all) // whatever lies between, a transformer for the drive too
        if (roles.controller >= 0 && std::find(c.devices.begin(), c.devices.end(), roles.power_switch) != c.devices.end())
            join(c.chips, {roles.controller});
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& chip = board.part(i);
        if (!is_controller(chip.kind)) continue;
        std::vector<NetId> driven;
        for (const auto pin : chip_outputs(chip)) join(driven, {chip.net(pin)});
        const std::vector<NetId> outputs = driven;
        for (const auto& part : board.parts)
            for (NetId net : outputs)
                if (part.pins.size() == 2 && part.touches(net) && (is_resistor_like(part.kind) || is_diode_like(part.kind)))
                    join(driven, {part.pins[0].id, part.pins[1].id});
        for (auto& c : m_all)
            for (int d : c.devices)
                if (const NetId control = switch_ends(board.part(d)).control; control >= 0 && listed(driven, control)) join(c.chips, {i});
    }
    for (auto& c : m_all) find_drive(board, roles, c);
}

// Resistors to its gates and bases, but not those that hold them off; what its chips keep time with.
void Converters::find_drive(const Board& board, const BoardRoles& roles, Converter& c) {
    std::vector<NetId> timed;
    for (int chip : c.chips) {
        timed.push_back(chip_boost(board.part(chip)));
        for (const char* pin : {"RT", "CT", "RC", "RTCT", "OSC"}) timed.push_back(board.part(chip).net(pin));
    }
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const Part& part = board.part(i);
        if (part.pins.size() != 2) continue;
        const NetId one = part.pins[0].id, other = part.pins[1].id;
        const auto on = [&](NetId net) { return net >= 0 && (net == one || net == other); };
        if ((is_capacitor(part.kind) || is_resistor_like(part.kind)) && std::any_of(timed.begin(), timed.end(), on)) c.clocks.push_back(i);
        for (int d : c.devices) {
            const auto ends = switch_ends(board.part(d));
            if (!is_resistor_like(part.kind) || !on(ends.control) || c.regulates) continue;
            const NetId far = one == ends.control ? other : one;
            if (far != ends.low && (far != ends.high || c.chips.empty()) && far != roles.primary_ground &&
                !listed(roles.path.returns(), far))
                join(c.needed, {i});
        }
    }
}

// Rails of its windings, or behind what it switches.
void Converters::find_rails(const Board& board, const BoardRoles& roles) {
    for (auto& c : m_all) {
        if (c.regulates) continue;
        c.rails.assign(board.rails.size(), 0);
        const auto above = roles.path.behind(c.nodes, false), below = roles.path.behind(c.nodes, true);
        for (std::size_t r = 0; r < board.rails.size(); ++r) {
            const auto& rail = board.rails[r];
            c.rails[r] = within(rail.volts < 0 ? below : above, rail.net_id);
            for (int m : c.magnetics) {
                if (board.part(m).kind != PartKind::Transformer) continue;
                const std::vector<Fault> open{{m, FaultMode::Open, {}}};
                const auto left = roles.path.rails(open)[r];
                c.rails[r] = c.rails[r] != 0 || (left.whole > 0 && left.left == 0);
            }
        }
    }
}

// Its power stage or a chip of it is fed by that rail of another.
bool Converters::hangs_on(const Board& board, const BoardRoles& roles, const Converter& c, std::size_t rail) {
    if (c.rails[rail] != 0 || (board.mains && board.rails[rail].net_id == roles.hv)) return false; // the line charges that all the same
    const auto nets = roles.path.wired_to({board.rails[rail].net_id}, {});
    return std::any_of(c.fed_at.begin(), c.fed_at.end(), [&](NetId n) { return within(nets, n); }) ||
           std::any_of(c.chips.begin(), c.chips.end(),
                       [&](int chip) { return within(nets, board.part(chip).net(chip_pins(board.part(chip)).supply)); });
}

// A chip of the other runs from a winding of this one.
bool Converters::winds_supply_of(const Board& board, const BoardRoles& roles, const Converter& one, const Converter& other) {
    return std::any_of(one.magnetics.begin(), one.magnetics.end(), [&](int m) {
        if (board.part(m).kind != PartKind::Transformer ||
            std::find(other.magnetics.begin(), other.magnetics.end(), m) != other.magnetics.end())
            return false;
        return shares(roles.path.starved_chips(std::vector<Fault>{{m, FaultMode::Open, {}}}), other.chips);
    });
}

} // namespace ohmo
