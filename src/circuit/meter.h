// SPDX-License-Identifier: GPL-3.0-or-later
// The meter as part of the circuit: ranges, test current, compliance.
#pragma once
#include "circuit/ac_solver.h"
#include "circuit/dc_solver.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

struct OhmsRange {
    double full; ///< ohm
    double amps; ///< test current
};

struct MeterProfile {
    std::string id;
    std::vector<OhmsRange> ohms = {{200, 1e-3}, {2e3, 4e-4}, {20e3, 75e-6}, {200e3, 7.5e-6}, {2e6, 0.75e-6}, {20e6, 75e-9}};
    double compliance = 2.5; ///< volts
    double over = 2e7;       ///< ohm
    double diode_amps = 1e-3, diode_volts = 3;
    double farads_hertz = 120;
    double esr_hertz = 1e5;
    double esr_over = 100; ///< ohm
    double continuity_ohms = 40;
    double leads = 0; ///< ohm that are not nulled
};

enum class Quantity { Ohms, Diode, Continuity, Farads, Esr };

/// What a meter would show, with its spread.
struct MeterReading {
    double value = 0;
    double ln_sigma = 0;             ///< spread of ln(value); for diode mode use sigma() below
    bool over = false;               ///< out of range
    bool rising = false;             ///< takes more than two seconds to settle
    std::optional<double> alternate; ///< value on the next range, when the meter may settle on either
    std::vector<int> conducting;     ///< parts whose junctions carry current
    bool converged = true;
    double sigma() const { return value * ln_sigma; }
};

/// Unpowered DC quantities: ohms, diode, continuity. `red` takes the positive lead.
MeterReading read_dc(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black);

/// Farads (series equivalent) and ESR from an AC solver made at the meter's frequency.
MeterReading read_ac(const AcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black);

} // namespace ohmo
