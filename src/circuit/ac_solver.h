// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "circuit/netlist.h"

#include <Eigen/Dense>

#include <complex>
#include <vector>

namespace ohmo {

struct AcImpedance {
    std::complex<double> ohms;
    double real_ln_sigma = 0;      ///< spread of ln(real part)
    double reactance_ln_sigma = 0; ///< spread of ln|imaginary part|
};

/// Small-signal impedances at one frequency; junctions stay off (100 mV test level), coupled windings included.
class AcSolver {
public:
    /// `hertz` > 0.
    AcSolver(const Netlist& netlist, double hertz);

    /// Impedance seen between two different nodes. Open gives about 1e9 ohm.
    AcImpedance impedance(int from, int to) const;

private:
    void find_islands();

    Netlist m_net;
    double m_omega;
    std::vector<int> m_island;  ///< by node; capacitors join, the coupling of windings does not
    Eigen::MatrixXcd m_inverse; ///< one node of every island is grounded
};

} // namespace ohmo
