// SPDX-License-Identifier: GPL-3.0-or-later
// Junctions, bipolars and channels as one- and two-port elements of a linear network, and the Newton iteration on their ports that
// the DC and the transient solver share.
#pragma once
#include "base/cancel.h"
#include "circuit/netlist.h"

#include <Eigen/Dense>

#include <array>
#include <span>
#include <vector>

namespace ohmo {

/// A pair of nodes; its current flows from plus to minus inside the element.
struct Port {
    int plus, minus;
    double siemens; ///< conductance at zero bias and leak, stamped into the linear network
    double ohms;    ///< series resistance inside the port
    double quiet =
        0; ///< V per square root of A: below it, times the root of a current, a stamped junction carries less than that beyond it
    double share = 1; ///< of the port's volts that the junction sees at zero bias, the rest lies across `ohms`: 1 / (1 + g ohms)
};

/// One element with one port (junction) or two (bipolar: emitter and collector junction; channel: drain-source and gate-source).
struct PortElement {
    enum class Law { Junction, Bipolar, Channel } law;
    std::size_t index; ///< into the netlist's list of that kind
    int first;         ///< its first port
    int count;
    int part;
};

/// Currents of an element's ports beyond what is stamped, and their derivatives.
struct PortLaw {
    std::array<double, 2> amps{};
    std::array<std::array<double, 2>, 2> slope{}; ///< slope[i][k] = d amps[i] / d volts[k]
};

/// What of a junction goes into the linear network.
enum class Stamp {
    ZeroBias, ///< its conductance at 0 V, for readings below a junction's volts
    LeakOnly  ///< for energised boards, where a blocked junction must not leak in proportion to its volts
};

struct PortSet {
    Stamp stamp = Stamp::ZeroBias;
    std::vector<Port> ports;
    std::vector<PortElement> elements;
    std::size_t size() const { return ports.size(); }

    void add_junction(const Netlist& net, std::size_t index);
    void add_bipolar(const Netlist& net, std::size_t index);
    void add_channel(const Netlist& net, std::size_t index);
};

/// `volts` has the element's port voltages inside the series resistance.
PortLaw port_law(const Netlist& net, const PortSet& set, const PortElement& element, const double* volts);

/// The current through the element's first port in full, for "which junctions conduct".
double through_amps(const Netlist& net, const PortSet& set, const PortElement& element, const double* volts);

struct PortOptions {
    double threshold;        ///< A; an element that carries less than this beyond its stamp is left to the linear network
    double relative = 1e-10; ///< of the largest port voltage, at least of 1 V
    int iterations = 200;
    double drive = 0;     ///< A; the test current where there is one, for better starts; 0: not known
    CancelToken cancel{}; ///< polled between rounds; a cancelled solve has not converged
};

struct PortSolution {
    Eigen::VectorXd volts;   ///< all ports, inside the series resistance
    Eigen::VectorXd amps;    ///< beyond the stamp; zero for inactive elements
    std::vector<int> active; ///< element numbers, ascending by activation
    bool converged = true;
    int worst = -1; ///< element whose voltage still moved most, when not converged
};

/// Solves v = v0 - Z i(v). `v0`: port voltages of the linear network alone; `z`: port by port resistance. `guess`: where to start, or null.
/// Falls back to raising the drive in steps when the plain iteration does not settle.
PortSolution solve_ports(const Netlist& net, const PortSet& set, const Eigen::VectorXd& v0, const Eigen::MatrixXd& z,
                         const PortOptions& options, const Eigen::VectorXd* guess = nullptr);

} // namespace ohmo
