// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/energised.h"

#include "circuit/transient.h"

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
double esr_from_dissipation(double farads, double factor, double hertz) { return factor / (2 * std::numbers::pi * hertz * farads); }
double hold_seconds(double farads, double from_volts, double to_volts, double amps) { return farads * (from_volts - to_volts) / amps; }
double half_sine_i2t(double peak_amps) { return peak_amps * peak_amps * 5e-3; } // the mean of sin² is a half

Inrush inrush(double volts_ac, double hertz, double ohms, double farads, double phase, double seconds) {
    enum : int { kLive, kNeutral, kPlus, kMinus, kNodes };
    Netlist net;
    net.nodes = kNodes;
    constexpr double kIs = 5e-9, kN = 1.9, kRs = 0.02;
    for (auto [a, k] : {std::pair(kLive, kPlus), std::pair(kNeutral, kPlus), std::pair(kMinus, kLive), std::pair(kMinus, kNeutral)})
        net.junctions.push_back({a, k, kIs, kN, 0, 0, 0, kRs});
    net.capacitors.push_back({kPlus, kMinus, farads, 0.05, 0, 0, 0});
    TransientOptions options;
    options.first_step = 1e-6;
    options.shortest_step = 1e-8;
    options.longest_step = 0.01 / hertz;
    options.volts = options.amps = 0.02;
    for (double zero = (std::numbers::pi - std::fmod(phase, std::numbers::pi)) / (2 * std::numbers::pi * hertz); zero < seconds;
         zero += 0.5 / hertz)
        options.stops.push_back(zero);
    Transient run(net, {{kLive, kNeutral, ohms, 0, std::numbers::sqrt2 * volts_ac, hertz, phase}}, options);
    Inrush out;
    double before = 0;
    while (run.now() < seconds) {
        const double then = run.now();
        if (!run.step(seconds)) break;
        const double amps = run.capacitor_amps(0);
        out.peak_amps = std::max(out.peak_amps, std::fabs(amps));
        out.i2t += (amps * amps + amps * before + before * before) / 3 * (run.now() - then);
        before = amps;
        out.bulk_volts = run.state().capacitor_volts[0];
        if (out.settled_at == 0 && out.bulk_volts > 0.95 * std::numbers::sqrt2 * volts_ac) out.settled_at = run.now();
    }
    return out;
}

} // namespace ohmo
