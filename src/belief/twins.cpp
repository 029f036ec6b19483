// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/twins.h"

#include "belief/search.h"

#include <algorithm>
#include <map>

namespace ohmo::belief {
namespace {

// All that the sums know of each unit, as numbers in a fixed order.
class Signatures {
public:
    Signatures(const Model& model, const Island& island, const Bench& bench, const std::vector<std::vector<int>>& unknowns)
        : m_island(island), m_of(island.units.size()), m_local(island.prior.size(), -1) {
        for (std::size_t i = 0; i < island.units.size(); ++i) {
            m_position[island.units[i]] = i;
            for (std::size_t k = 0; k < unknowns[i].size(); ++k) m_local[static_cast<std::size_t>(unknowns[i][k])] = static_cast<int>(k);
        }
        for (std::size_t i = 0; i < island.units.size(); ++i)
            figures(i, model.units[static_cast<std::size_t>(island.units[i])], unknowns[i]);
        const auto& c = island.circuit;
        for (const auto& x : c.conductors) say(x.unit, 1, x.a, x.b, local(x.ohms), x.winding ? 1 : 0);
        for (const auto& x : c.junctions) {
            say(x.unit, 2, x.plus, x.minus, local(x.is), x.n, x.count, x.gain < 0 ? -1.0 : local(x.gain));
            for (int k = 0; k < x.count; ++k) say(x.unit, x.node[static_cast<std::size_t>(k)], x.draws[static_cast<std::size_t>(k)]);
        }
        for (const auto& x : c.reservoirs) say(x.unit, 3, x.a, x.b, local(x.farads), local(x.esr), x.loss, x.follows, x.from);
        for (const auto& core : c.cores)
            for (const auto& w : core.windings) say(w.unit, 4, core.coupling, w.a, w.b, local(w.ohms), local(w.henry));
        for (const auto& out : bench.out)
            for (std::size_t i = 0; i < island.units.size(); ++i) m_of[i].push_back(out[static_cast<std::size_t>(island.units[i])]);
    }
    const std::vector<double>& of(std::size_t position) const { return m_of[position]; }

private:
    double local(int unknown) const { return m_local[static_cast<std::size_t>(unknown)]; }
    template <class... Numbers>
    void say(int unit, Numbers... numbers) {
        if (const auto at = m_position.find(unit); at != m_position.end()) (m_of[at->second].push_back(static_cast<double>(numbers)), ...);
    }
    void figures(std::size_t i, const Unit& unit, const std::vector<int>& unknowns) {
        auto& out = m_of[i];
        for (int k : unknowns) {
            const auto& u = m_island.prior[static_cast<std::size_t>(k)];
            out.insert(out.end(), {u.middle, u.spread, static_cast<double>(u.tails)});
        }
        for (const auto& m : unit.modes) {
            out.insert(out.end(), {static_cast<double>(m.fault.mode), static_cast<double>(m.values.size())});
            for (const auto& v : m.values) out.insert(out.end(), {local(v.unknown), v.middle, v.spread});
        }
    }

    const Island& m_island;
    std::vector<std::vector<double>> m_of;
    std::vector<int> m_local; ///< by unknown: its number among those of its unit
    std::map<int, std::size_t> m_position;
};

} // namespace

Twins::Twins(const Model& model, const Island& island, const Bench& bench, const DirectEvidence& direct) : m_unknowns(island.units.size()) {
    for (std::size_t i = 0; i < island.units.size(); ++i)
        for (std::size_t k = 0; k < island.owner.size(); ++k)
            if (island.owner[k] == island.units[i]) m_unknowns[i].push_back(static_cast<int>(k));
    const Signatures signatures(model, island, bench, m_unknowns);
    std::map<std::vector<double>, std::vector<std::size_t>> alike;
    for (std::size_t i = 0; i < island.units.size(); ++i)
        if (direct.refined[static_cast<std::size_t>(island.units[i])].empty()) alike[signatures.of(i)].push_back(i);
    for (auto& [signature, positions] : alike)
        if (positions.size() > 1) m_groups.push_back(std::move(positions));
}

std::vector<std::uint8_t> Twins::in_order(std::vector<std::uint8_t> mode) const {
    std::vector<std::uint8_t> some;
    for (const auto& group : m_groups) {
        some.clear();
        for (std::size_t i : group) some.push_back(mode[i]);
        std::sort(some.begin(), some.end());
        for (std::size_t k = 0; k < group.size(); ++k) mode[group[k]] = some[k];
    }
    return mode;
}

std::vector<double> Twins::exchanged(std::vector<double> values, const std::vector<std::uint8_t>& from,
                                     const std::vector<std::uint8_t>& to) const {
    const auto was = values;
    for (const auto& group : m_groups) {
        const auto sorted = [&](const std::vector<std::uint8_t>& mode) {
            auto out = group;
            std::stable_sort(out.begin(), out.end(), [&](std::size_t a, std::size_t b) { return mode[a] < mode[b]; });
            return out;
        };
        const auto source = sorted(from), target = sorted(to);
        for (std::size_t k = 0; k < group.size(); ++k)
            for (std::size_t u = 0; u < m_unknowns[target[k]].size(); ++u)
                values[static_cast<std::size_t>(m_unknowns[target[k]][u])] = was[static_cast<std::size_t>(m_unknowns[source[k]][u])];
    }
    return values;
}

} // namespace ohmo::belief
