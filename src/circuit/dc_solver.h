// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "circuit/netlist.h"

#include <Eigen/Dense>

#include <optional>
#include <vector>

namespace ohmo {

/// Operating point of the board with one test current flowing in at one net and out at another.
struct DcPoint {
    double volts = 0;            ///< across the leads
    double ln_sigma = 0;         ///< spread of ln(volts) from part tolerances
    std::vector<int> conducting; ///< parts whose junctions carry a noticeable share
    double slowest_seconds = 0;  ///< longest charging time constant that the leads see
    bool converged = true;
};

/// Unpowered board: nodal analysis per galvanic island, one inverse each, Newton at the ports of the junctions that conduct.
/// Pairs on different islands are open by topology. Holds no mutable state: solves may run at once.
class DcSolver {
public:
    explicit DcSolver(Netlist netlist);

    bool connected(int a, int b) const { return m_island[static_cast<std::size_t>(a)] == m_island[static_cast<std::size_t>(b)]; }

    /// `amps` into `from`, out of `to`; they must be connected() and different.
    DcPoint solve(int from, int to, double amps) const;

    const Netlist& netlist() const { return m_net; }
    int island(int node) const { return m_island[static_cast<std::size_t>(node)]; }

private:
    struct Island {
        std::vector<int> nodes;
        std::vector<int> junctions; ///< indices into m_net.junctions
        std::vector<int> resistors, capacitors;
        std::vector<std::pair<int, int>> windings; ///< core, winding
        Eigen::MatrixXd inverse;                   ///< node by node, reference node last and zero
    };
    void find_islands();
    void factor(Island& island) const;

    Netlist m_net;
    std::vector<int> m_island, m_row; ///< by node
    std::vector<Island> m_islands;
};

} // namespace ohmo
