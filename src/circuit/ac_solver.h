// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "circuit/netlist.h"

#include <Eigen/Dense>

#include <complex>
#include <memory>
#include <optional>
#include <vector>

namespace ohmo {

struct AcImpedance {
    std::complex<double> ohms;
    double real_ln_sigma = 0;      ///< spread of ln(real part)
    double reactance_ln_sigma = 0; ///< spread of ln|imaginary part|
    struct Share {
        int part;
        bool resistance;             ///< of its equivalent series resistance; else of its capacitance
        double sigma;                ///< of the ln of that
        std::complex<double> change; ///< ohms, with one such deviation
    };
    std::vector<Share> capacitors; ///< what is uncertain of them, by part
};

/// What a junction, bipolar or channel that is off still conducts.
struct AcLeak {
    int a, b;
    double siemens;
    bool operator==(const AcLeak&) const = default;
};

std::vector<AcLeak> ac_leaks(const Netlist& net);

/// Elements that come and go between two netlists with the same nodes.
struct AcChange {
    std::vector<Resistive> added, removed;
    std::vector<AcLeak> added_leaks, removed_leaks;
    std::vector<Capacitive> added_capacitors, removed_capacitors;
};

/// Small-signal impedances at one frequency; junctions stay off (100 mV test level), coupled windings included. Immutable.
class AcSolver {
public:
    /// `hertz` > 0.
    AcSolver(Netlist netlist, double hertz);

    /// The same board with a few elements changed, by rank-one updates. Empty when an update would cancel (what is taken away carried
    /// nearly all of the current at its place); then the board must be factored anew.
    std::optional<AcSolver> changed(const AcChange& change) const;

    /// Impedance seen between two different nodes. Open gives about 1e9 ohm.
    AcImpedance impedance(int from, int to) const;

    double hertz() const;

private:
    AcSolver() = default;
    void find_islands();
    bool update(int a, int b, std::complex<double> siemens);
    Eigen::VectorXcd between(int a, int b) const; ///< node volts for one ampere into `a` and out of `b`

    Netlist m_net;
    double m_omega = 0;
    std::vector<int> m_island;                         ///< by node; capacitors join, the coupling of windings does not
    std::shared_ptr<const Eigen::MatrixXcd> m_inverse; ///< one node of every island is grounded; shared with what it was changed from
    struct Update {
        Eigen::VectorXcd column; ///< node volts for one ampere through the changed element
        std::complex<double> factor;
    };
    std::vector<Update> m_updates; ///< each takes factor * column * column^T off the inverse
};

} // namespace ohmo
