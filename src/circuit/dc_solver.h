// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "circuit/ports.h"

#include <Eigen/Dense>

#include <memory>
#include <optional>
#include <span>
#include <vector>

namespace ohmo {

/// What one standard deviation changes: of what all elements of a part have in common (element 0), or of one of several elements alone.
struct Deviation {
    int part, element;
    double change;
    double sigma = 0; ///< the deviation itself, of ln(the element's value)
    bool same_as(const Deviation& o) const { return part == o.part && element == o.element; }
    bool before(const Deviation& o) const { return part != o.part ? part < o.part : element < o.element; }
};

/// Operating point of the board with one test current flowing in at one net and out at another.
struct DcPoint {
    double volts = 0;               ///< across the leads
    double ln_sigma = 0;            ///< spread of ln(volts) from part tolerances
    std::vector<Deviation> by_part; ///< changes of ln(volts), ascending, small ones left out
    std::vector<int> conducting;    ///< parts whose junctions carry a noticeable share
    double slowest_seconds = 0;     ///< longest charging time constant that the leads see
    bool converged = true;
    int failed_part = -1; ///< where the solve did not settle; -1 when converged
};

struct DcOptions {
    double threshold = 3e-6; ///< share of the test current that an element may carry and still count as off
    double relative = 1e-9;  ///< how far junctions are settled, of the largest voltage across one
    int iterations = 200;    ///< of Newton, before its fallbacks
    CancelToken cancel{};    ///< a cancelled solve comes back as not converged, without a failed part
};

enum class DcDetail {
    Volts, ///< volts and convergence only: an auto-ranging meter's tries
    Full
};

/// Unpowered board: nodal analysis per galvanic island, one inverse each, Newton at the ports of the elements that conduct.
/// Pairs on different islands are open by roles. Immutable: solves may run at once.
class DcSolver {
public:
    explicit DcSolver(Netlist netlist, DcOptions options = {});

    /// The same board with resistors added: rank-one updates of the islands concerned, the others shared. Empty when a resistor joins two
    /// islands or reaches a node that is not there; then the board must be factored anew.
    std::optional<DcSolver> with_added(std::span<const Resistive> resistors) const;

    bool connected(int a, int b) const { return m_island[static_cast<std::size_t>(a)] == m_island[static_cast<std::size_t>(b)]; }

    /// `amps` into `from`, out of `to`; they must be connected() and different. `port_volts`, when given: where to start (ignored unless it
    /// has the island's number of ports), and where the answer's are left. A start changes the time taken, not the answer.
    DcPoint solve(int from, int to, double amps, DcDetail detail = DcDetail::Full, Eigen::VectorXd* port_volts = nullptr) const;

    const Netlist& netlist() const { return *m_net; }
    int island(int node) const { return m_island[static_cast<std::size_t>(node)]; }
    int islands() const { return static_cast<int>(m_islands.size()); }

private:
    struct Island {
        std::vector<int> nodes;
        PortSet ports;
        std::vector<int> resistors, capacitors;
        std::vector<int> siblings;                 ///< by port element: its number among several of one part, 0 when it is alone
        std::vector<std::pair<int, int>> windings; ///< core, winding
        Eigen::MatrixXd inverse;                   ///< node by node, reference node last and zero
        Eigen::MatrixXd port_columns;              ///< node by port: volts for one ampere into the port
        Eigen::MatrixXd port_inverse;              ///< port by port
    };
    class Spread;
    explicit DcSolver(DcOptions options) : m_options(std::move(options)) {}
    void find_islands();
    void factor(Island& island) const;
    void set_ports(Island& island) const;
    const Island& of(int node) const { return *m_islands[static_cast<std::size_t>(m_island[static_cast<std::size_t>(node)])]; }
    int row(int node) const { return m_row[static_cast<std::size_t>(node)]; }
    void add_spread(DcPoint& point, const Island& island, const PortSolution& ports, int from, int to, double amps) const;

    DcOptions m_options;
    std::shared_ptr<const Netlist> m_net;
    std::vector<int> m_island, m_row; ///< by node
    std::vector<std::shared_ptr<const Island>> m_islands;
};

} // namespace ohmo
