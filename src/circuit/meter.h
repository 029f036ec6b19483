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
    double full;       ///< ohm
    double amps;       ///< test current
    double spread = 0; ///< one deviation of ln(amps); 0: as little is known as of any hand meter
    bool operator==(const OhmsRange&) const = default;
};

struct MeterProfile {
    std::string id;
    std::vector<OhmsRange> ohms = {{200, 1e-3}, {2e3, 4e-4}, {20e3, 75e-6}, {200e3, 7.5e-6}, {2e6, 0.75e-6}, {20e6, 75e-9}};
    double compliance = 2.5; ///< volts
    double over = 2e7;       ///< ohm
    double diode_amps = 1e-3, diode_volts = 3;
    double diode_spread = 0; ///< one deviation of ln(diode_amps); 0: as little is known as of any hand meter
    double farads_hertz = 120;
    double esr_hertz = 1e5;
    double esr_over = 100; ///< ohm
    double continuity_ohms = 40;
    double leads = 0;                                     ///< ohm that are not nulled
    double gain = 1;                                      ///< what ohms show over what is there
    double gain_spread = 0;                               ///< one deviation of ln(gain); 0: that of any hand meter
    double accuracy = 0.012;                              ///< one deviation, as a share of the reading
    double residue = 0.05;                                ///< ohm, one deviation of what nulling leaves; four wires: half a milliohm
    double insulation_volts = 500, insulation_ohms = 5e5; ///< open-circuit volts of the insulation tester and what limits its current
    double square_hertz = 1e5, square_ohms = 50;          ///< generator of the square-wave test
    double square_volts = 1;                              ///< peak to peak as its display says
    bool usual = false;                                   ///< a reading that names no meter was taken with this one
    bool square_into_load = false; ///< the display means volts into a load of square_ohms: open-circuit is twice that
    double square_open_volts() const { return square_into_load ? 2 * square_volts : square_volts; }
    bool operator==(const MeterProfile&) const = default;
};

/// Ohms with so few volts that no junction conducts: full scale 0.2 V on every range.
MeterProfile low_power_meter();

/// Four wires, ten milliohm and up, full scale 0.2 V: for following a short along its rail.
MeterProfile milliohm_meter();

/// Leakage: amperes at the insulation tester's volts. Residue: volts, peak to peak, that a capacitor leaves of a square wave.
enum class Quantity { Ohms, Diode, Continuity, Farads, Esr, Leakage, Residue, VoltsDirect, VoltsAlternating };
bool under_power(Quantity what); ///< of a unit that is switched on, which no meter model reads
bool is_direct(Quantity what); ///< read with direct current

/// What a meter would show, with its spread.
struct MeterReading {
    double value = 0;
    double ln_sigma = 0;             ///< spread of ln(value); for diode mode use sigma() below
    std::vector<Deviation> by_part;  ///< changes of ln(value)
    bool over = false;               ///< out of range
    bool rising = false;             ///< takes more than two seconds to settle
    double settle_seconds = 0;       ///< longest charging time behind the leads
    std::optional<double> alternate; ///< value on a neighbouring range, when the meter may settle on either
    std::vector<int> conducting;     ///< parts whose junctions carry current
    bool converged = true;
    int failed_part = -1; ///< where the solve did not settle
    double sigma() const { return value * ln_sigma; }
};

/// Where to look first: the range and the port volts of a similar board's reading at the same place. Changes the time taken only.
struct ReadingHint {
    std::size_t range = 0;
    std::vector<Eigen::VectorXd> port_volts; ///< by range, empty where not known; diode mode: the first
};

/// Unpowered DC quantities: ohms, diode, continuity, leakage. `red` takes the positive lead. `learn`: filled for later readings.
MeterReading read_dc(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black,
                     const ReadingHint* hint = nullptr, ReadingHint* learn = nullptr);

/// Farads (series equivalent) and ESR from an AC solver made at the meter's frequency.
MeterReading read_ac(const AcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black);

/// The same place with the leads either way round.
struct BothWays {
    MeterReading forward, reversed;
    bool polarity_matters = false; ///< more than 10 % apart, or open one way only
};
BothWays read_both_ways(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black);

} // namespace ohmo
