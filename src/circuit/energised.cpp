// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/energised.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {

BulkRipple bulk_ripple(double volts_ac, double hertz, double farads, double watts, double diode_volts) {
    BulkRipple out;
    const double crest = std::numbers::sqrt2 * volts_ac - diode_volts;
    if (crest <= 0 || farads <= 0) return {std::max(crest, 0.0), 0, watts <= 0};
    out.peak_volts = crest;
    if (watts <= 0) {
        out.valley_volts = crest;
        return out;
    }
    // Past the crest the capacitor follows the line until that falls faster than the load empties it; from there the energy falls linearly,
    // v(t)^2 = v0^2 - 2 P (t - t0) / C, until |line| - drops meets it again. Both instants by bisection.
    const double omega = 2 * std::numbers::pi * hertz;
    const double half = 0.5 / hertz;
    const double peak = std::numbers::sqrt2 * volts_ac;
    const auto line = [&](double t) { return peak * std::fabs(std::cos(omega * t)) - diode_volts; };
    double leaves = 0, later = half / 4;
    for (int i = 0; i < 60; ++i) {
        const double mid = (leaves + later) / 2;
        (peak * omega * std::sin(omega * mid) * line(mid) < watts / farads ? leaves : later) = mid;
    }
    const double from = line(leaves);
    const auto capacitor = [&](double t) { return from * from - 2 * watts * (t - leaves) / farads; };
    const auto above = [&](double t) {
        const double c = capacitor(t), l = line(t);
        return c <= 0 ? -1.0 : std::sqrt(c) - l;
    };
    double lo = half / 2, hi = half;
    if (capacitor(lo) <= 0) {
        out.sustained = false;
        out.valley_volts = 0;
        return out;
    }
    for (int i = 0; i < 80; ++i) {
        const double mid = (lo + hi) / 2;
        (above(mid) > 0 ? lo : hi) = mid;
    }
    const double left = capacitor(lo);
    out.sustained = left > 0;
    out.valley_volts = std::sqrt(std::max(0.0, left));
    return out;
}

double Lamp::amps(double volts) const { return watts0 / volts0 * std::pow(std::max(volts, 0.0) / volts0, exponent); }

LampPoints lamp_points(const Lamp& lamp, double volts_ac, double watts) {
    LampPoints out;
    // Power left for the supply: v I(V - v), highest at v = V / (1 + exponent).
    out.most_at_volts = volts_ac / (1 + lamp.exponent);
    const auto passed = [&](double v) { return v * lamp.amps(volts_ac - v); };
    out.most_watts = passed(out.most_at_volts);
    if (watts > out.most_watts) return out;
    const auto bisect = [&](double low, double high) { // passed - watts changes sign between them
        const bool rising = passed(low) < watts;
        for (int i = 0; i < 100; ++i) {
            const double mid = (low + high) / 2;
            ((passed(mid) < watts) == rising ? low : high) = mid;
        }
        return (low + high) / 2;
    };
    out.upper = bisect(out.most_at_volts, volts_ac);
    out.lower = bisect(0, out.most_at_volts);
    return out;
}

double decay_seconds(double from_volts, double to_volts, double tau) {
    return from_volts <= to_volts ? 0.0 : tau * std::log(from_volts / to_volts);
}
double tau_from_readings(double volts1, double volts2, double seconds) { return seconds / std::log(volts1 / volts2); }
double stored_joules(double farads, double volts) { return 0.5 * farads * volts * volts; }

} // namespace ohmo
