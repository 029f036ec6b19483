// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/model.h"

#include "belief/elimination.h"
#include "belief/parts.h"
#include "damage/telling.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ohmo::belief {
namespace {

constexpr double kWellAfterOpen = kLnOpen - 0.1;

class Groups {
public:
    explicit Groups(std::size_t count) : m_parent(count) { std::iota(m_parent.begin(), m_parent.end(), 0); }
    int find(int x) {
        while (m_parent[static_cast<std::size_t>(x)] != x)
            x = m_parent[static_cast<std::size_t>(x)] = m_parent[static_cast<std::size_t>(m_parent[static_cast<std::size_t>(x)])];
        return x;
    }
    void join(int a, int b) { m_parent[static_cast<std::size_t>(find(a))] = find(b); }

private:
    std::vector<int> m_parent;
};

// Moves the elements of one side of a part to other nodes and unknowns.
template <class Node, class Number, class Mine>
void copy_elements(const Circuit& from, Circuit& to, int unit, const Node& node, const Number& number, const Mine& mine) {
    for (auto c : from.conductors) {
        if (!mine(c.a) || node(c.a) < 0 || node(c.b) < 0) continue;
        to.conductors.push_back({node(c.a), node(c.b), number(c.ohms), unit, c.winding});
    }
    for (auto j : from.junctions) {
        if (!mine(j.plus)) continue;
        j.plus = node(j.plus);
        j.minus = node(j.minus);
        for (int q = 0; q < j.count; ++q) j.node[static_cast<std::size_t>(q)] = node(j.node[static_cast<std::size_t>(q)]);
        j.is = number(j.is);
        if (j.gain >= 0) j.gain = number(j.gain);
        j.unit = unit;
        to.junctions.push_back(j);
    }
    for (const auto& c : from.reservoirs) {
        if (!mine(c.a) || node(c.a) < 0 || node(c.b) < 0) continue;
        to.reservoirs.push_back({node(c.a), node(c.b), number(c.farads), number(c.esr), c.loss, unit, c.follows, c.from});
    }
    for (const auto& core : from.cores) {
        Core kept{{}, core.coupling};
        for (const auto& w : core.windings)
            if (mine(w.a)) kept.windings.push_back({node(w.a), node(w.b), number(w.ohms), number(w.henry), unit});
        if (!kept.windings.empty()) to.cores.push_back(std::move(kept));
    }
}

class Builder {
public:
    Builder(const Board& board, const BoardRoles& roles, const std::vector<RootWeight>& roots, const std::vector<MeterProfile>& meters,
            const std::set<int>& renewed)
        : m_board(board), m_line(roles.line_transformer), m_renewed(renewed), m_meters(meters) {
        double total = 0;
        for (const auto& r : roots) total += r.weight;
        const double scale = board.practice().roots_a_unit / std::max(total, 1e-12);
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            std::vector<RootWeight> mine;
            for (const auto& r : roots)
                if (r.fault.part == i) mine.push_back({r.fault, std::min(r.weight * scale, board.practice().most_wear)});
            m_parts.push_back(part_elements(board, roles, i, mine));
        }
    }

    Model run() {
        find_islands();
        m_model.units_of.resize(m_parts.size());
        for (int i = 0; i < static_cast<int>(m_parts.size()); ++i) {
            add_part(i, false);
            if (m_renewed.contains(i)) add_part(i, true);
        }
        const auto in_order = [](Circuit& c) { c.order = std::make_shared<const Elimination>(c); };
        for (auto& island : m_model.islands) in_order(island.circuit);
        for (auto& unit : m_model.units) in_order(unit.alone);
        return std::move(m_model);
    }

private:
    // Nothing but capacitors may join a rail to its return: a short of one is seen there all the same. Not across the barrier.
    static bool holds_together(const Part& part) {
        return is_capacitor(part.kind) && part.kind != PartKind::YCapacitor && part.stage != "barrier";
    }

    void find_islands() {
        const std::size_t nets = m_board.nets.size();
        Groups groups(nets);
        std::vector<std::pair<int, int>> loose;
        for (std::size_t i = 0; i < m_parts.size(); ++i) {
            const auto& part = m_parts[i];
            for (const auto& c : part.elements.conductors)
                if (part.unknowns[static_cast<std::size_t>(c.ohms)].middle < kWellAfterOpen ||
                    holds_together(m_board.part(static_cast<int>(i))))
                    groups.join(c.a, c.b);
                else
                    loose.emplace_back(c.a, c.b);
            for (const auto& j : part.elements.junctions)
                for (int q = 0; q < j.count; ++q) groups.join(j.node[static_cast<std::size_t>(q)], j.plus);
        }
        // What is shorted behind a line transformer opens the fuse before it: neither side is told without the other.
        if (m_line >= 0)
            for (const auto& pin : m_board.part(m_line).pins)
                if (const NetId first = m_board.part(m_line).pins.front().id; first >= 0 && pin.id >= 0) groups.join(first, pin.id);
        std::vector<int> size(nets, 0);
        for (std::size_t n = 0; n < nets; ++n) ++size[static_cast<std::size_t>(groups.find(static_cast<int>(n)))];
        for (const auto& [a, b] : loose) // gates and the like hang on what they are read against
            if (groups.find(a) != groups.find(b) &&
                (size[static_cast<std::size_t>(groups.find(a))] == 1 || size[static_cast<std::size_t>(groups.find(b))] == 1)) {
                const int both = size[static_cast<std::size_t>(groups.find(a))] + size[static_cast<std::size_t>(groups.find(b))];
                groups.join(a, b);
                size[static_cast<std::size_t>(groups.find(a))] = both;
            }
        std::map<int, int> number;
        m_model.home.resize(nets);
        for (std::size_t n = 0; n < nets; ++n) {
            const auto [at, fresh] = number.try_emplace(groups.find(static_cast<int>(n)), static_cast<int>(m_model.islands.size()));
            if (fresh) {
                m_model.islands.emplace_back();
                for (const auto& m : m_meters) add_meter(m_model.islands.back(), m);
            }
            auto& island = m_model.islands[static_cast<std::size_t>(at->second)];
            m_model.home[n] = {at->second, island.circuit.nodes++};
            island.nets.push_back(static_cast<NetId>(n));
        }
    }

    void add_meter(Island& island, const MeterProfile& meter) const {
        const Practice& p = m_board.practice();
        const auto add = [&](double spread) {
            island.prior.push_back({0, spread});
            island.owner.push_back(-1);
        };
        island.prior.push_back({meter.leads, meter.residue < p.four_wire_residue ? meter.residue : p.lead_offset});
        island.owner.push_back(-1);
        island.prior.push_back({std::log(meter.gain), meter.gain_spread > 0 ? meter.gain_spread : p.ohms_gain});
        island.owner.push_back(-1);
        add(p.diode_gain);
        add(p.farads_gain);
        add(p.esr_gain);
        add(meter.diode_spread > 0 ? meter.diode_spread : p.diode_current_spread);
        for (std::size_t k = 0; k < MeterUnknown::kRanges; ++k)
            add(k < meter.ohms.size() && meter.ohms[k].spread > 0 ? meter.ohms[k].spread : p.test_current_spread);
    }

    // One unit for each side of the part: what no element of it joins stands for itself.
    void add_part(int index, bool renewed) {
        const auto& pe = m_parts[static_cast<std::size_t>(index)];
        Groups sides(m_board.nets.size());
        for (const auto& c : pe.elements.conductors) sides.join(c.a, c.b);
        for (const auto& j : pe.elements.junctions)
            for (int q = 0; q < j.count; ++q) sides.join(j.node[static_cast<std::size_t>(q)], j.plus);
        for (const auto& c : pe.elements.reservoirs) sides.join(c.a, c.b);
        std::vector<int> roots;
        const auto add_side = [&](int net) {
            if (std::find(roots.begin(), roots.end(), sides.find(net)) == roots.end()) roots.push_back(sides.find(net));
        };
        for (const auto& c : pe.elements.conductors) add_side(c.a);
        for (const auto& j : pe.elements.junctions) add_side(j.plus);
        for (const auto& c : pe.elements.reservoirs) add_side(c.a);
        if (roots.empty() && !m_board.part(index).pins.empty() && m_board.part(index).pins.front().id >= 0)
            roots.push_back(sides.find(m_board.part(index).pins.front().id));
        std::vector<int> side_of(pe.unknowns.size(), 0); // by unknown
        for (std::size_t s = 0; s < roots.size(); ++s) {
            const auto here = [&](int net) { return sides.find(net) == roots[s]; };
            for (const auto& c : pe.elements.conductors)
                if (here(c.a)) side_of[static_cast<std::size_t>(c.ohms)] = static_cast<int>(s);
            for (const auto& j : pe.elements.junctions) {
                if (here(j.plus)) side_of[static_cast<std::size_t>(j.is)] = static_cast<int>(s);
                if (here(j.plus) && j.gain >= 0) side_of[static_cast<std::size_t>(j.gain)] = static_cast<int>(s);
            }
            for (const auto& c : pe.elements.reservoirs)
                if (here(c.a)) side_of[static_cast<std::size_t>(c.farads)] = side_of[static_cast<std::size_t>(c.esr)] = static_cast<int>(s);
            for (const auto& core : pe.elements.cores)
                for (const auto& w : core.windings)
                    if (here(w.a))
                        side_of[static_cast<std::size_t>(w.henry)] = side_of[static_cast<std::size_t>(w.ohms)] = static_cast<int>(s);
        }
        for (std::size_t s = 0; s < roots.size(); ++s) add_unit(index, renewed, static_cast<int>(s), roots[s], sides, side_of);
    }

    void add_unit(int index, bool renewed, int side, int root, Groups& sides, const std::vector<int>& side_of) {
        const auto& pe = m_parts[static_cast<std::size_t>(index)];
        const int number = static_cast<int>(m_model.units.size());
        const auto mine = [&](int net) { return sides.find(net) == root; };
        Unit unit;
        unit.part = index;
        unit.renewed = renewed;
        unit.ages = m_board.part(index).kind == PartKind::Electrolytic;
        unit.island = m_model.home[static_cast<std::size_t>(root)].first;
        auto& island = m_model.islands[static_cast<std::size_t>(unit.island)];
        std::vector<int> local(pe.unknowns.size(), -1);
        for (std::size_t u = 0; u < pe.unknowns.size(); ++u) {
            if (side_of[u] != side) continue;
            local[u] = static_cast<int>(island.prior.size());
            island.prior.push_back(pe.unknowns[u]);
            island.owner.push_back(number);
        }
        const auto numbered = [&](int u) { return local[static_cast<std::size_t>(u)]; };
        const auto on_island = [&](int net) {
            const auto& home = m_model.home[static_cast<std::size_t>(net)];
            return home.first == unit.island ? home.second : -1;
        };
        copy_elements(pe.elements, island.circuit, number, on_island, numbered, mine);
        const auto by_itself = [&](int net) {
            return unit.alone_node.try_emplace(net, static_cast<int>(unit.alone_node.size())).first->second;
        };
        copy_elements(pe.elements, unit.alone, -1, by_itself, numbered, mine);
        unit.alone.nodes = static_cast<int>(unit.alone_node.size());
        unit.modes.push_back({{index, FaultMode::Open, {}}, 0, {}, false});
        const Part& part = m_board.part(index); // the mains switch is on for the cold readings
        const bool untold = part.kind == PartKind::Switch && part.value.empty() && part.stage != "mains-in";
        for (const auto& m : pe.modes) {
            if (renewed && !m.setting) continue; // new parts are taken to be good
            const bool here = m.values.empty() ? side == 0 : side_of[static_cast<std::size_t>(m.values.front().unknown)] == side;
            if (!here) continue;
            if (untold && m.fault.mode != FaultMode::Open) continue; // a switch
            UnitMode mode{m.fault,
                          untold ? m_board.practice().set_open : m.wear,
                          {},
                          !m.setting && conducts_wrongly(m.fault.mode),
                          untold || m.setting};
            for (const auto& v : m.values)
                if (numbered(v.unknown) >= 0) mode.values.push_back({numbered(v.unknown), v.middle, v.spread});
            unit.modes.push_back(std::move(mode));
            if (part.kind != PartKind::Relay || m.fault.mode != FaultMode::Short) continue;
            UnitMode held = unit.modes.back(); // the same contact, closed because the relay keeps its place, or is drawn as it works
            held.wear = m_board.practice().set_closed;
            held.conducts = false;
            held.setting = true;
            unit.modes.push_back(std::move(held));
        }
        island.units.push_back(number);
        m_model.units_of[static_cast<std::size_t>(index)].push_back(number);
        m_model.units.push_back(std::move(unit));
    }

    const Board& m_board;
    int m_line;
    const std::set<int>& m_renewed;
    const std::vector<MeterProfile>& m_meters;
    std::vector<PartElements> m_parts;
    Model m_model;
};

} // namespace

double Unit::wear() const {
    double sum = 0;
    for (const auto& m : modes) sum += m.wear;
    return sum;
}

std::optional<int> Model::unit_between(int part, NetId a, NetId b, bool renewed) const {
    for (int u : units_of[static_cast<std::size_t>(part)]) {
        const auto& unit = units[static_cast<std::size_t>(u)];
        if (unit.renewed == renewed && unit.alone_node.contains(a) && unit.alone_node.contains(b)) return u;
    }
    return std::nullopt;
}

Model make_model(const Board& board, const BoardRoles& roles, const std::vector<RootWeight>& roots, const std::vector<MeterProfile>& meters,
                 const std::set<int>& renewed) {
    return Builder(board, roles, roots, meters, renewed).run();
}

} // namespace ohmo::belief
