// SPDX-License-Identifier: GPL-3.0-or-later
// One board in one state of the work, ready to be solved under any fault set.
#pragma once
#include "circuit/ac_solver.h"
#include "circuit/dc_solver.h"

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace ohmo {

/// Keeps every part's healthy elements, so that a fault set costs only its own parts. Immutable; `board` must outlive it.
class BoardCircuit {
public:
    BoardCircuit(const Board& board, BoardState state);

    /// The same elements as expand(board, state, faults), in the same order.
    Netlist netlist(std::span<const Fault> faults) const;

    /// The healthy inverse updated where that can be, else the board factored anew.
    DcSolver dc(std::span<const Fault> faults) const;
    AcSolver ac(std::span<const Fault> faults, double hertz) const;

    /// What `base`, this circuit's solver under the faults `of_base`, becomes under `faults`: by updates of its inverse. Empty where they
    /// will not do. Direct current: nothing but conductance added between nodes of one island.
    std::optional<DcSolver> dc_from(const DcSolver& base, std::span<const Fault> of_base, std::span<const Fault> faults) const;
    std::optional<AcSolver> ac_from(const AcSolver& base, std::span<const Fault> of_base, std::span<const Fault> faults) const;

    const DcSolver& healthy() const { return *m_healthy; }
    const BoardState& state() const { return m_state; }

private:
    struct Change {
        Netlist before, after; ///< one part's elements
    };
    /// The parts whose faults differ and that are in circuit.
    std::vector<Change> changes(std::span<const Fault> of_base, std::span<const Fault> faults) const;

    const Board& m_board;
    BoardState m_state;
    std::vector<Netlist> m_parts; ///< by part, healthy; empty for parts out of circuit
    std::unique_ptr<const DcSolver> m_healthy;
};

} // namespace ohmo
