// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/board_circuit.h"

#include <algorithm>
#include <optional>
#include <set>

namespace ohmo {
namespace {

// What `after` has and `before` has not, each element counted once; the rest of `before` in `gone`.
template <class Element>
std::vector<Element> surplus(const std::vector<Element>& before, const std::vector<Element>& after, std::vector<Element>& gone) {
    std::vector<Element> more;
    gone = before;
    for (const auto& e : after) {
        const auto found = std::find(gone.begin(), gone.end(), e);
        if (found == gone.end())
            more.push_back(e);
        else
            gone.erase(found);
    }
    return more;
}

bool same_structure(const Netlist& a, const Netlist& b) { return a.nodes == b.nodes && a.cores == b.cores; }

std::vector<int> parts_of(std::span<const Fault> faults) {
    std::set<int> parts;
    for (const auto& f : faults) parts.insert(f.part);
    return {parts.begin(), parts.end()};
}

std::vector<Fault> of_part(std::span<const Fault> faults, int part) {
    std::vector<Fault> out;
    std::copy_if(faults.begin(), faults.end(), std::back_inserter(out), [&](const Fault& f) { return f.part == part; });
    return out;
}

} // namespace

BoardCircuit::BoardCircuit(const Board& board, BoardState state) : m_board(board), m_state(std::move(state)) {
    m_parts.reserve(board.parts.size());
    const int nets = static_cast<int>(board.nets.size());
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        if (in_circuit(board, m_state, i)) {
            m_parts.push_back(expand_part(board, i, {}));
        } else {
            m_parts.emplace_back();
            m_parts.back().nodes = nets;
        }
    }
    m_healthy = std::make_unique<const DcSolver>(netlist({}));
}

std::vector<BoardCircuit::Change> BoardCircuit::changes(std::span<const Fault> of_base, std::span<const Fault> faults) const {
    auto parts = parts_of(faults);
    const auto more = parts_of(of_base);
    parts.insert(parts.end(), more.begin(), more.end());
    std::sort(parts.begin(), parts.end());
    parts.erase(std::unique(parts.begin(), parts.end()), parts.end());
    std::vector<Change> out;
    for (int i : parts) {
        const auto had = of_part(of_base, i), has = of_part(faults, i);
        if (had == has || !in_circuit(m_board, m_state, i)) continue;
        const auto elements = [&](const std::vector<Fault>& f) {
            return f.empty() ? m_parts[static_cast<std::size_t>(i)] : expand_part(m_board, i, f);
        };
        out.push_back({elements(had), elements(has)});
    }
    return out;
}

Netlist BoardCircuit::netlist(std::span<const Fault> faults) const {
    const int nets = static_cast<int>(m_board.nets.size());
    const auto faulty = parts_of(faults);
    Netlist out;
    out.nodes = nets;
    for (int i = 0; i < static_cast<int>(m_parts.size()); ++i) {
        const auto& healthy = m_parts[static_cast<std::size_t>(i)];
        if (!std::binary_search(faulty.begin(), faulty.end(), i))
            append(out, healthy, nets);
        else if (in_circuit(m_board, m_state, i))
            append(out, expand_part(m_board, i, of_part(faults, i)), nets);
    }
    return out;
}

DcSolver BoardCircuit::dc(std::span<const Fault> faults) const {
    if (faults.empty()) return *m_healthy;
    if (auto updated = dc_from(*m_healthy, {}, faults)) return std::move(*updated);
    return DcSolver(netlist(faults));
}

std::optional<DcSolver> BoardCircuit::dc_from(const DcSolver& base, std::span<const Fault> of_base, std::span<const Fault> faults) const {
    std::vector<Resistive> added;
    for (const auto& [before, after] : changes(of_base, faults)) {
        std::vector<Resistive> gone;
        const auto more = surplus(before.resistors, after.resistors, gone);
        const bool inner = before.nodes > static_cast<int>(m_board.nets.size()); // its inner nodes have other numbers on the board
        if (inner || !gone.empty() || !same_structure(before, after) || before.junctions != after.junctions ||
            before.bipolars != after.bipolars || before.channels != after.channels || before.capacitors != after.capacitors)
            return std::nullopt;
        added.insert(added.end(), more.begin(), more.end());
    }
    return base.with_added(added);
}

AcSolver BoardCircuit::ac(std::span<const Fault> faults, double hertz) const { return AcSolver(netlist(faults), hertz); }

std::optional<AcSolver> BoardCircuit::ac_from(const AcSolver& base, std::span<const Fault> of_base, std::span<const Fault> faults) const {
    AcChange change;
    for (const auto& [before, after] : changes(of_base, faults)) {
        if (!same_structure(before, after)) return std::nullopt;
        std::vector<Resistive> lost;
        const auto more = surplus(before.resistors, after.resistors, lost);
        change.added.insert(change.added.end(), more.begin(), more.end());
        change.removed.insert(change.removed.end(), lost.begin(), lost.end());
        std::vector<AcLeak> lost_leaks;
        const auto leaks = surplus(ac_leaks(before), ac_leaks(after), lost_leaks);
        change.added_leaks.insert(change.added_leaks.end(), leaks.begin(), leaks.end());
        change.removed_leaks.insert(change.removed_leaks.end(), lost_leaks.begin(), lost_leaks.end());
        std::vector<Capacitive> lost_capacitors;
        const auto capacitors = surplus(before.capacitors, after.capacitors, lost_capacitors);
        change.added_capacitors.insert(change.added_capacitors.end(), capacitors.begin(), capacitors.end());
        change.removed_capacitors.insert(change.removed_capacitors.end(), lost_capacitors.begin(), lost_capacitors.end());
    }
    // A part's inner nodes have other numbers on the board.
    const int nets = static_cast<int>(m_board.nets.size());
    const auto inner = [&](const auto& elements) {
        return std::any_of(elements.begin(), elements.end(), [&](const auto& e) { return e.a >= nets || e.b >= nets; });
    };
    const bool numbered = !inner(change.added) && !inner(change.removed) && !inner(change.added_leaks) && !inner(change.removed_leaks) &&
                          !inner(change.added_capacitors) && !inner(change.removed_capacitors);
    return numbered ? base.changed(change) : std::nullopt;
}

} // namespace ohmo
