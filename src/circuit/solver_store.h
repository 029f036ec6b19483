// SPDX-License-Identifier: GPL-3.0-or-later
// Solvers of one board in one state, by fault set. An open part carries nearly all of the current at its place, so that updates of the
// healthy board cancel; the boards with the open parts alone are kept, and what else is faulty updates those.
#pragma once
#include "circuit/board_circuit.h"

#include <map>
#include <memory>
#include <vector>

namespace ohmo {

/// Not to be used by two threads at once.
class SolverStore {
public:
    explicit SolverStore(std::shared_ptr<const BoardCircuit> circuit);

    /// `faults` ascend.
    std::shared_ptr<const DcSolver> dc(const std::vector<Fault>& faults);
    std::shared_ptr<const AcSolver> ac(double hertz, const std::vector<Fault>& faults);

    const BoardCircuit& circuit() const { return *m_circuit; }

private:
    template <class Solver>
    struct Shelf {
        std::map<std::vector<Fault>, std::shared_ptr<const Solver>> kept;
        std::map<Fault, bool> updates; ///< whether the fault alone updates the healthy board
    };
    template <class Solver, class Full, class From>
    std::shared_ptr<const Solver> find(Shelf<Solver>& shelf, const std::vector<Fault>& faults, const Full& full, const From& from);

    std::shared_ptr<const BoardCircuit> m_circuit;
    Shelf<DcSolver> m_dc;
    std::map<double, Shelf<AcSolver>> m_ac; ///< by frequency
};

} // namespace ohmo
