// SPDX-License-Identifier: GPL-3.0-or-later
// One board in one state of the work, ready to be solved under any fault set.
#pragma once
#include "circuit/ac_solver.h"
#include "circuit/dc_solver.h"

#include <memory>
#include <span>
#include <vector>

namespace ohmo {

/// Keeps every part's healthy elements, so that a fault set costs only its own parts. Immutable; `board` must outlive it.
class BoardCircuit {
public:
    BoardCircuit(const Board& board, BoardState state);

    /// The same elements as expand(board, state, faults), in the same order.
    Netlist netlist(std::span<const Fault> faults) const;

    /// Faults that only add conductance between nodes of one island update the healthy inverse; any other factors the board anew.
    DcSolver dc(std::span<const Fault> faults) const;

    /// Impedances under `faults`, from the healthy ones at the same frequency (`healthy` as of ac({}, hertz) with this circuit).
    AcSolver ac(std::span<const Fault> faults, const AcSolver& healthy) const;
    AcSolver ac(std::span<const Fault> faults, double hertz) const;

    const DcSolver& healthy() const { return *m_healthy; }
    const BoardState& state() const { return m_state; }

private:
    std::vector<Fault> of_part(std::span<const Fault> faults, int part) const;

    const Board& m_board;
    BoardState m_state;
    std::vector<Netlist> m_parts; ///< by part, healthy; empty for parts out of circuit
    std::unique_ptr<const DcSolver> m_healthy;
};

} // namespace ohmo
