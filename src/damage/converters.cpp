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

// Where a chip switches by itself.
std::vector<NetId> nodes_of(const Part& chip) {
    const auto pins = chip_pins(chip);
    std::vector<NetId> out;
    for (const NetId net : {chip.net(pins.high), chip.net(pins.low), chip.net("SW"), chip.net("LX")})
        if (net >= 0) join(out, {net});
    return out;
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
    if (m_all.size() < 2) return;
    find_chips(board, roles);
    find_rails(board, roles);
    // One that feeds another stops it too, and so on.
    for (std::size_t k = 0; k < m_all.size(); ++k) {
        std::vector<char> still(m_all.size(), 0);
        still[k] = 1;
        for (bool grown = true; grown;) {
            grown = false;
            for (std::size_t i = 0; i < m_all.size(); ++i)
                for (std::size_t j = 0; j < m_all.size() && still[i] == 0; ++j)
                    if (still[j] != 0 && needs(board, roles, m_all[i], m_all[j])) {
                        still[i] = 1;
                        grown = true;
                    }
        }
        m_all[k].stops.assign(board.rails.size(), 0);
        for (std::size_t i = 0; i < m_all.size(); ++i)
            for (std::size_t r = 0; r < board.rails.size() && still[i] != 0; ++r)
                m_all[k].stops[r] = m_all[k].stops[r] != 0 || m_all[i].rails[r] != 0;
    }
    for (std::size_t k = 0; k < m_all.size(); ++k) { // what feeds no rail that is known may stop all of them
        if (std::none_of(m_all[k].stops.begin(), m_all[k].stops.end(), [](char c) { return c != 0; })) continue;
        for (int i : m_all[k].chips) m_of.emplace(i, k);
        for (int i : m_all[k].devices) m_of.emplace(i, k);
    }
}

const std::vector<char>* Converters::stopped_with(int part) const {
    const auto at = m_of.find(part);
    return at == m_of.end() ? nullptr : &m_all[at->second].stops;
}

// Devices on the same winding or inductor are one converter's.
void Converters::find_converters(const Board& board, const BoardRoles& roles) {
    for (int d = 0; d < static_cast<int>(board.parts.size()); ++d) {
        const Part& device = board.part(d);
        const auto nodes = is_controller(device.kind) ? nodes_of(device) : std::vector<NetId>{}; // with its switch inside
        if (nodes.empty() && !roles.is_power_device(d)) continue;
        const auto ends = switch_ends(device);
        const std::vector<NetId> nets = !nodes.empty() ? nodes : std::vector<NetId>{ends.high, ends.low};
        Converter here;
        here.devices = {d};
        for (int m = 0; m < static_cast<int>(board.parts.size()); ++m)
            for (NetId net : nets)
                if (net >= 0 && !stores(board, net) && switched_by(board.part(m), net)) join(here.magnetics, {m});
        if (here.magnetics.empty()) continue; // a rectifier that is switched, a leg of what it drives
        for (NetId net : nets)
            if (net >= 0) here.fed_at.push_back(net);
        for (int m : here.magnetics)
            for (const auto& pin : board.part(m).pins)
                if (board.part(m).kind != PartKind::Transformer || pin.role.front() == 'P') join(here.fed_at, {pin.id});
        if (!nodes.empty()) here.chips = {d};
        const auto same = std::find_if(m_all.begin(), m_all.end(), [&](const Converter& c) { return shares(c.magnetics, here.magnetics); });
        if (same == m_all.end()) {
            m_all.push_back(std::move(here));
            continue;
        }
        join(same->magnetics, here.magnetics);
        join(same->devices, here.devices);
        join(same->chips, here.chips);
        join(same->fed_at, here.fed_at);
    }
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
}

// Rails of its windings, or behind its inductor.
void Converters::find_rails(const Board& board, const BoardRoles& roles) {
    for (auto& c : m_all) {
        c.rails.assign(board.rails.size(), 0);
        for (int m : c.magnetics) {
            const Part& magnetic = board.part(m);
            const std::vector<Fault> open{{m, FaultMode::Open, {}}};
            const auto left = roles.path.rails(open);
            std::vector<NetId> ends;
            for (const auto& pin : magnetic.pins) ends.push_back(pin.id);
            for (std::size_t r = 0; r < board.rails.size(); ++r) {
                const auto& rail = board.rails[r];
                const bool wound = magnetic.kind == PartKind::Transformer && left[r].whole > 0 && left[r].left == 0;
                const auto way = rail.volts < 0 ? PowerPath::Way::Backwards : PowerPath::Way::Forwards;
                const bool behind = magnetic.kind == PartKind::Inductor && within(roles.path.stiff_reach(ends, way, -1), rail.net_id);
                if (wound || behind) c.rails[r] = 1;
            }
        }
    }
}

// Its power stage or a chip of it hangs on a rail of the other, or a winding of the other feeds that chip.
bool Converters::needs(const Board& board, const BoardRoles& roles, const Converter& one, const Converter& other) const {
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        if (other.rails[r] == 0 || (board.mains && board.rails[r].net_id == roles.hv)) continue; // the line charges that all the same
        const auto& nets = roles.path.rail_nets(r);
        if (std::any_of(one.fed_at.begin(), one.fed_at.end(), [&](NetId n) { return one.rails[r] == 0 && within(nets, n); })) return true;
        for (int chip : one.chips)
            if (within(nets, board.part(chip).net(chip_pins(board.part(chip)).supply))) return true;
    }
    for (int m : other.magnetics) {
        if (std::find(one.magnetics.begin(), one.magnetics.end(), m) != one.magnetics.end()) continue;
        const auto starved = roles.path.starved_chips(std::vector<Fault>{{m, FaultMode::Open, {}}});
        if (shares(starved, one.chips)) return true;
    }
    return false;
}

} // namespace ohmo
