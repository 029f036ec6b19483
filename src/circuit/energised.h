// SPDX-License-Identifier: GPL-3.0-or-later
// Energised sums over a line cycle and with a lamp in series, in closed form or by a short integration.
#pragma once
#include <optional>
#include <vector>

namespace ohmo {

/// Rectifier and bulk capacitor under constant power.
struct BulkRipple {
    double peak_volts = 0, valley_volts = 0;
    bool sustained = true; ///< false: the capacitor runs empty before the next half cycle
};

/// `volts_ac` rms, `hertz` line, `farads`, `watts` constant power drawn, `diode_volts` total drop (two diodes).
/// Full wave. Integrates C v dv = -P dt from the peak until the rectified line catches up.
BulkRipple bulk_ripple(double volts_ac, double hertz, double farads, double watts, double diode_volts = 1.8);

/// Series lamp: current amps0 (V / volts0)^exponent through a filament rated watts0 at volts0.
struct Lamp {
    double watts0 = 60, volts0 = 230;
    double exponent = 0.55; ///< handbook range 0.5 to 0.6, from memory
    double amps(double volts) const;
};

struct LampPoints {
    std::optional<double> upper; ///< stable volts across the supply
    std::optional<double> lower; ///< unstable point: started below it, the supply stalls
    double most_watts = 0;       ///< the most power the lamp can pass
    double most_at_volts = 0;
};

/// A constant-power load behind the lamp on `volts_ac`.
LampPoints lamp_points(const Lamp& lamp, double volts_ac, double watts);

/// Exponential discharge. All in volts, seconds, ohms, farads.
double decay_seconds(double from_volts, double to_volts, double tau);
double tau_from_readings(double volts1, double volts2, double seconds); ///< between two readings, falling
double stored_joules(double farads, double volts);

/// ESR in ohm from the dissipation factor at `hertz`.
double esr_from_dissipation(double farads, double factor, double hertz);
/// Seconds that a capacitor feeds `amps` while it falls from one voltage to the other.
double hold_seconds(double farads, double from_volts, double to_volts, double amps);
/// A²s of one half sine of 10 ms with that peak: the convention of rectifier data sheets.
double half_sine_i2t(double peak_amps);

/// What a rectifier and bulk capacitor draw when switched on at `phase` of the line (radians, pi/2: at its crest).
struct Inrush {
    double peak_amps = 0;
    double i2t = 0;        ///< A²s in `seconds`
    double bulk_volts = 0; ///< at the end
    double settled_at = 0; ///< seconds until the capacitor has 95 % of the crest
};
/// Full-wave bridge of silicon rectifiers, `ohms` in series (wiring, inrush limiter, lamp when cold), `farads` empty at first, nothing else
/// drawn. By the transient solver with a stop at every zero of the line.
Inrush inrush(double volts_ac, double hertz, double ohms, double farads, double phase, double seconds = 0.2);

} // namespace ohmo
