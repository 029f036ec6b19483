// SPDX-License-Identifier: GPL-3.0-or-later
// Parts whose resistance follows their temperature while the board is energised.
#pragma once
#include "circuit/transient.h"

#include <vector>

namespace ohmo {

/// A resistor of the netlist with a heat capacity. Temperatures in kelvin.
struct ThermalPart {
    enum class Law {
        Ntc,     ///< ohms25 exp(B (1/T - 1/298))
        Ptc,     ///< ohms25 up to `knee`, then ten times for every 20 K
        Filament ///< ohms25 (T / 298)^1.2, heat radiated
    } law = Law::Ntc;
    std::size_t resistor = 0; ///< index into the netlist
    double ohms25 = 5;
    double joules_per_kelvin = 0.3;
    double watts_per_kelvin = 0.02; ///< Ntc, Ptc: to the air
    double beta = 3000;             ///< Ntc
    double knee = 393;              ///< Ptc
    double radiated = 0;            ///< Filament: W/K⁴
    double kelvin = 298;

    double ohms() const;
    double cooling_watts() const;
};

/// Inrush limiter of `ohms25` cold for `amps` steady: in the steady state it runs near 440 K. Common practice, no source.
ThermalPart inrush_thermistor(std::size_t resistor, double ohms25, double amps);

/// A filament lamp that takes `watts` at `volts`, at 2700 K; at other volts its current goes nearly as V^0.55 by itself.
ThermalPart filament_lamp(std::size_t resistor, double watts, double volts);

/// Heats and cools the parts after every step of a run, and changes their resistance in it when it has moved by 2 %.
class ThermalParts {
public:
    ThermalParts(Transient& run, std::vector<ThermalPart> parts);
    void after_step(double dt); ///< seconds
    const std::vector<ThermalPart>& parts() const { return m_parts; }

private:
    Transient& m_run;
    std::vector<ThermalPart> m_parts;
};

/// A lamp in series with a supply that charges its bulk capacitor and draws constant power from it.
struct LampStart {
    double brightest_watts = 0, settled_watts = 0; ///< averages over a half cycle
    double seconds_bright = 0;                     ///< how long above half of its rating
    double bulk_volts = 0;                         ///< at the end
};
/// `lamp_watts` at `volts_ac`; `farads` empty at first; `load_ohms` across the bulk capacitor (a short: small). Two seconds of line.
LampStart lamp_start(double volts_ac, double hertz, double lamp_watts, double farads, double load_ohms, double seconds = 2);

} // namespace ohmo
