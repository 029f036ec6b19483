// SPDX-License-Identifier: GPL-3.0-or-later
// ESR by square wave and scope: a generator behind its source resistance across the capacitor; what a good one does not flatten is ESR.
#pragma once
#include "circuit/meter.h"

#include <complex>
#include <functional>
#include <vector>

namespace ohmo {

/// ESR from the residue, source times V / (E - V); E open-circuit and V residue in volts peak to peak, source in ohm. Infinite when nothing
/// was flattened (V >= E).
double esr_of_residue(double residue_volts, double open_volts, double source_ohms);
/// The other way round.
double residue_of_esr(double esr, double open_volts, double source_ohms);

struct SquareResidue {
    double volts = 0;        ///< peak to peak, as the scope shows it
    double esr_said = 0;     ///< ohm, what the formula makes of it
    double esr_true = 0;     ///< ohm, real part of the impedance at the generator's frequency
    bool ramp_shows = false; ///< the capacitor is too small for the formula: its charging ramp is part of the residue
};

/// An odd harmonic of the generator's wave: volts of its sine, open-circuit.
struct SquareHarmonic {
    int order = 1;
    double hertz = 0, volts = 0;
};
/// The edges take 2 % of the period, so 25 of them carry all.
std::vector<SquareHarmonic> square_harmonics(const MeterProfile& generator);

/// What the scope draws of harmonics: volts by harmonic, real part along the generator's sine.
struct SquareTrace {
    double volts = 0;                     ///< peak to peak
    double highest_at = 0, lowest_at = 0; ///< angle of the fundamental, radians
};
SquareTrace square_trace(const std::vector<SquareHarmonic>& harmonics, const std::vector<std::complex<double>>& volts);

/// The residue by harmonics. `impedance`: ohm at a frequency in hertz.
SquareResidue square_residue(const MeterProfile& generator, const std::function<std::complex<double>(double)>& impedance);

/// The same between two nodes of a board, junctions off.
SquareResidue square_residue(const MeterProfile& generator, const Netlist& net, int red, int black);

} // namespace ohmo
