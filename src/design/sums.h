// SPDX-License-Identifier: GPL-3.0-or-later
// The sums that a designer does, each in closed form: text books of power electronics, the formulas from memory. SI units throughout.
#pragma once
#include <string>
#include <vector>

namespace ohmo {

/// Crest of the line, V: sqrt 2 times its rms value.
double crest_volts(double volts_rms);

/// Farads that keep `valley` volts between crests of `crest` volts while `watts` are drawn: half C (crest^2 - valley^2) is what is drawn
/// until the line has caught up, `period` seconds after the crest less the arc of the crest. `period`: half a cycle behind a bridge, a
/// whole one for each capacitor of a doubler.
double bulk_farads_for(double watts, double crest, double valley, double hertz, double period);

/// Ohm that take `farads` from `volts` to `to_volts` in `seconds`.
double bleeder_ohms(double farads, double volts, double to_volts, double seconds);

/// Flyback at the edge of continuous current, at the lowest bulk volts.
struct FlybackSums {
    double duty = 0;       ///< share of the period that the switch is on: reflected / (reflected + valley)
    double peak_amps = 0;  ///< of the primary: 2 P / (valley duty)
    double henry = 0;      ///< of the primary: valley duty / (peak f)
    double rms_amps = 0;   ///< of the primary: peak sqrt(duty / 3)
    double clamp_ohms = 0; ///< burns what the leakage stores: 2 Vc (Vc - Vr) / (L_leak peak^2 f)
    double clamp_farads = 0;
};
FlybackSums flyback_sums(double watts, double valley, double reflected, double hertz, double leakage_share, double clamp_volts);

/// Turns of windings for rails: the fewest of the lowest rail's, no more than `most_per_turn` volts each, that leave the others within
/// `error` of whole turns; the best where none does.
struct Turns {
    double volts_per_turn = 0;
    std::vector<int> of; ///< each winding
    double worst = 0;    ///< the largest relative error of a rail
};
Turns whole_turns(const std::vector<double>& volts, double most_per_turn, double error);

/// Farads behind a rectifier at `hertz` of ripple so that `amps` lower it by `ripple` volts: I / (f V), the linear approximation.
double reservoir_farads(double amps, double hertz, double ripple);

/// The smallest of a row of standard ratings that is not below `wanted`; the largest where none is.
double next_rating(const std::vector<double>& ratings, double wanted);

const std::vector<double>& capacitor_volts();      ///< electrolytics, V
const std::vector<double>& fuse_amps();            ///< A
const std::vector<double>& rectifier_amps();       ///< A
const std::vector<double>& silicon_volts();        ///< diodes and switches, V
const std::vector<double>& bridge_volts();         ///< bridge rectifiers, V
const std::vector<double>& schottky_volts();       ///< V
const std::vector<double>& switch_ratings();       ///< A
const std::vector<double>& surge_absorber_volts(); ///< V rms

} // namespace ohmo
