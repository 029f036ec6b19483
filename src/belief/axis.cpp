// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/axis.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr double kOverOhms = 1e12;
constexpr double kDiodeBend = 2, kDiodeOver = 2.5, kDiodeFlattens = 0.5; // V: above two volts a diode test only says "high"
constexpr double kEsrOver = 50;
constexpr double kNoEdge = 1e9; // volts have no over-range

} // namespace

Bent diode_axis(double volts) {
    if (volts <= kDiodeBend) return {volts, 1};
    const double t = std::tanh((volts - kDiodeBend) / kDiodeFlattens);
    return {kDiodeBend + kDiodeFlattens * t, 1 - t * t};
}

Bent diode_axis_towards(double volts, double shown) {
    const double last = std::max(kDiodeBend, shown);
    if (volts <= last) return diode_axis(volts);
    const Bent at = diode_axis(last);
    return {at.y + at.slope * last * std::log(volts / last), at.slope * last / volts};
}

double ohms_axis(double ohms) {
    const double r = std::max(ohms, 0.0);
    return std::log(r * kMostOhms / (r + kMostOhms) + kLastDigitOhms);
}

double ohms_axis_slope(double ohms) {
    const double r = std::max(ohms, 0.0), share = kMostOhms / (r + kMostOhms);
    return share * share / (r * share + kLastDigitOhms);
}

double ohms_of_axis(double y) {
    const double bent = std::max(std::exp(y) - kLastDigitOhms, 0.0);
    return bent >= kMostOhms * 0.999 ? kMostOhms * 1e3 : bent * kMostOhms / (kMostOhms - bent);
}

double farads_axis(double farads) {
    const double c = std::max(farads, 1e-13);
    return std::log(c * kMostFarads / (c + kMostFarads) + kLastDigitFarads);
}

double farads_axis_slope(double farads) {
    const double share = kMostFarads / (farads + kMostFarads);
    return share * share / (farads * share + kLastDigitFarads);
}

double esr_axis(double ohms) {
    const double e = std::max(ohms, 1e-6);
    return std::log(e * kMostEsr / (e + kMostEsr) + kLastDigitEsr);
}

double live_axis(double volts) { return std::asinh(volts); }

double axis_value(Quantity what, double y) {
    switch (what) {
    case Quantity::Diode:
        return std::max(y, 0.0);
    case Quantity::Farads:
        return std::max(std::exp(y) - kLastDigitFarads, 0.0);
    case Quantity::Esr:
    case Quantity::Residue:
        return std::max(std::exp(y) - kLastDigitEsr, 0.0);
    case Quantity::VoltsDirect:
    case Quantity::VoltsAlternating:
        return std::sinh(y);
    default:
        return ohms_of_axis(y);
    }
}

double axis_over(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return 2.45;
    case Quantity::Farads:
        return std::log(kMostFarads * 0.34);
    case Quantity::Esr:
    case Quantity::Residue:
        return std::log(kMostEsr * 0.4);
    case Quantity::VoltsDirect:
    case Quantity::VoltsAlternating:
        return kNoEdge;
    default:
        return std::log(1.3e7);
    }
}

Touched touched(const Practice& p, Quantity what, const Shown& shown, bool alone, const MeterProfile& meter) {
    Touched out;
    const auto with = [](double a, double b) { return std::sqrt(a * a + b * b); };
    switch (what) {
    case Quantity::Diode:
        out.y = shown.over ? kDiodeOver : diode_axis(shown.value).y;
        out.noise = shown.over ? 0.2 : alone ? p.touch_volts_alone : p.touch_volts;
        break;
    case Quantity::Farads:
        out.y = shown.over ? std::log(kMostFarads) : farads_axis(shown.value);
        out.noise = shown.over ? 1 : alone ? p.touch_farads_alone : with(p.touch_farads, p.stray_farads / (shown.value + kLastDigitFarads));
        break;
    case Quantity::Esr:
    case Quantity::Residue:
        out.y = esr_axis(shown.over ? kEsrOver * 2 : shown.value);
        out.noise = shown.over ? 0.5 : with(alone ? p.touch_esr_alone : p.touch_esr, p.touch_esr_ohms / (shown.value + kLastDigitEsr));
        if (what == Quantity::Residue && !shown.over) // by its distance from all and nothing, read off a screen
            out.noise = with(out.noise, p.residue_share * std::pow(shown.value + meter.square_ohms, 2) / meter.square_ohms /
                                            (shown.value + kLastDigitEsr));
        break;
    default: {
        if (shown.over) {
            out.y = what == Quantity::Continuity ? ohms_axis(40) : ohms_axis(kOverOhms);
            out.at_least = what == Quantity::Continuity;
            out.noise = 0.5;
            break;
        }
        out.y = ohms_axis(shown.value);
        const double contact =
            meter.residue < p.four_wire_residue ? 2 * meter.residue : p.touch_contact_ohms; // four wires leave the tips out
        const double high = std::max(0.0, std::log(std::max(shown.value, 1.0) / 1e6));      // megohms: fingers, flux, damp
        out.noise =
            with(with(alone ? p.touch_ohms_alone : p.touch_ohms, contact / (shown.value + kLastDigitOhms)), (alone ? 0.05 : 0.12) * high);
    }
    }
    return out;
}

bool agree(const Practice& p, Quantity what, const Shown& a, const Shown& b, const MeterProfile& meter) {
    if (a.over || b.over) return a.over == b.over;
    const auto x = touched(p, what, a, true, meter), y = touched(p, what, b, true, meter);
    return std::fabs(x.y - y.y) < 3 * std::max(x.noise, y.noise);
}

double ln_broad(Quantity what) {
    switch (what) {
    case Quantity::Diode:
        return std::log(1.0 / 3);
    case Quantity::Farads:
    case Quantity::Esr:
    case Quantity::Residue:
        return std::log(1.0 / 10);
    default:
        return std::log(1.0 / 14);
    }
}

} // namespace ohmo::belief
