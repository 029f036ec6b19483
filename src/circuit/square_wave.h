// SPDX-License-Identifier: GPL-3.0-or-later
// ESR by square wave and scope: a generator behind its source resistance across the capacitor; what a good one does not flatten is ESR.
#pragma once
#include "circuit/meter.h"

#include <complex>
#include <functional>

namespace ohmo {

/// ESR from the residue, source times V / (E - V); E open-circuit and V residue in volts peak to peak, source in ohm. Infinite when nothing
/// was flattened (V >= E).
double esr_of_residue(double residue_volts, double open_volts, double source_ohms);

struct SquareResidue {
    double volts = 0;        ///< peak to peak, as the scope shows it
    double esr_said = 0;     ///< ohm, what the formula makes of it
    double esr_true = 0;     ///< ohm, real part of the impedance at the generator's frequency
    bool ramp_shows = false; ///< the capacitor is too small for the formula: its charging ramp is part of the residue
};

/// The residue by harmonics. `impedance`: ohm at a frequency in hertz. The edges take 2 % of the period, so 25 odd harmonics carry all.
SquareResidue square_residue(const MeterProfile& generator, const std::function<std::complex<double>(double)>& impedance);

/// The same between two nodes of a board, junctions off.
SquareResidue square_residue(const MeterProfile& generator, const Netlist& net, int red, int black);

} // namespace ohmo
