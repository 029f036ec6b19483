// SPDX-License-Identifier: GPL-3.0-or-later
// The axis on which readings are compared: ln(ohms + the last digit) bent flat at over-range, volts, ln(farads + the last digit), ln(ESR +
// the last digit); a scope's residue as the ESR that the formula makes of it; arsinh(volts) under power.
#pragma once
#include "belief/network.h"
#include "board/practice.h"

namespace ohmo::belief {

inline constexpr double kLastDigitOhms = 0.05;    ///< of a hand meter, with what is left of its leads
inline constexpr double kMostOhms = 3e7;          ///< beyond that everything is over-range
inline constexpr double kLastDigitFarads = 1e-11; ///< with what is between the leads themselves
inline constexpr double kMostFarads = 0.1, kMostEsr = 100, kLastDigitEsr = 0.02;

double ohms_axis(double ohms);
double ohms_axis_slope(double ohms);
double ohms_of_axis(double y);
double farads_axis(double farads);
double farads_axis_slope(double farads);
double esr_axis(double ohms);
double live_axis(double volts);
double axis_value(Quantity what, double y); ///< SI
struct Bent {
    double y = 0, slope = 0; ///< dy by volt
};
Bent diode_axis(double volts); ///< of a diode test: bent flat above two volts
/// The same up to what was shown and two volts, and no flat end beyond.
Bent diode_axis_towards(double volts, double shown);
double axis_over(Quantity what); ///< where over-range is taken to lie

/// A reading on the axis with the noise of one touch.
struct Touched {
    double y = 0, noise = 1;
    bool at_least = false; ///< anything above says the same: a beep that did not come
};
/// `alone`: the part was out of circuit, the leads sat on it alone.
Touched touched(const Practice& practice, Quantity what, const Shown& shown, bool alone, const MeterProfile& meter);

/// Whether two readings of one place say the same: within what a touch and the last digit do.
bool agree(const Practice& practice, Quantity what, const Shown& a, const Shown& b, const MeterProfile& meter);

/// ln density of a reading that may be anything.
double ln_broad(Quantity what);

} // namespace ohmo::belief
