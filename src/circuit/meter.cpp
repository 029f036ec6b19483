// SPDX-License-Identifier: GPL-3.0-or-later
// Ohmmeter: a current source with an open-circuit voltage; the lowest range that holds the reading shows it. Near a range boundary the
// meter may settle on either range, so the neighbour's value is given as an alternate where junctions make the two differ.
#include "circuit/meter.h"

#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kBoundary = 0.05; // share of full scale in which either range may be taken
constexpr double kSettleSeconds = 2.0;

MeterReading over_reading() {
    MeterReading r;
    r.over = true;
    return r;
}

MeterReading from_point(const DcPoint& point, double value) {
    MeterReading r;
    r.value = value;
    r.ln_sigma = point.ln_sigma;
    r.settle_seconds = point.slowest_seconds;
    r.rising = point.slowest_seconds > kSettleSeconds;
    r.conducting = point.conducting;
    r.converged = point.converged;
    r.failed_part = point.failed_part;
    return r;
}

MeterReading read_ohms(const DcSolver& solver, const MeterProfile& meter, int red, int black) {
    if (red == black) {
        MeterReading r;
        r.value = meter.leads;
        return r;
    }
    if (!solver.connected(red, black)) return over_reading();
    double least = 0; // less current never reads fewer ohms: junctions only close
    for (std::size_t i = 0; i < meter.ohms.size(); ++i) {
        const auto& range = meter.ohms[i];
        if (range.full < least) continue;
        const DcPoint tried = solver.solve(red, black, range.amps, DcDetail::Volts);
        const double volts = tried.volts + meter.leads * range.amps;
        const double ohms = volts / range.amps;
        if (tried.converged && (volts > meter.compliance || ohms > range.full || ohms > meter.over)) {
            least = 0.98 * ohms;
            continue;
        }
        MeterReading reading = from_point(solver.solve(red, black, range.amps), ohms);
        if (ohms > range.full * (1 - kBoundary) && i + 1 < meter.ohms.size()) {
            const DcPoint next = solver.solve(red, black, meter.ohms[i + 1].amps, DcDetail::Volts);
            const double other = next.volts / meter.ohms[i + 1].amps + meter.leads;
            if (next.converged && std::fabs(other / ohms - 1) > 0.02) reading.alternate = other;
        }
        return reading;
    }
    return over_reading();
}

MeterReading read_diode(const DcSolver& solver, const MeterProfile& meter, int red, int black) {
    if (red == black) return {};
    if (!solver.connected(red, black)) return over_reading();
    const DcPoint point = solver.solve(red, black, meter.diode_amps);
    if (point.converged && point.volts > meter.diode_volts) return over_reading();
    return from_point(point, point.volts + meter.leads * meter.diode_amps);
}

// The tester is a voltage behind a resistance: that resistance across the leads and the current it would drive through a short.
MeterReading read_leakage(const DcSolver& solver, const MeterProfile& meter, int red, int black) {
    MeterReading r;
    if (red == black || !solver.connected(red, black)) return r;
    const Resistive source[] = {{red, black, meter.insulation_ohms, 0, -1}};
    const auto loaded = solver.with_added(source);
    const DcPoint point = loaded->solve(red, black, meter.insulation_volts / meter.insulation_ohms);
    const double amps = (meter.insulation_volts - point.volts) / meter.insulation_ohms;
    r = from_point(point, std::max(0.0, amps));
    // ln of the current moves against ln of the volts, through what the tester drops.
    r.ln_sigma = amps > 0 ? point.ln_sigma * point.volts / (amps * meter.insulation_ohms) : 0;
    return r;
}

} // namespace

MeterProfile low_power_meter() {
    MeterProfile m;
    m.id = "low-power";
    m.ohms = {{200, 1e-3}, {2e3, 1e-4}, {20e3, 1e-5}, {200e3, 1e-6}, {2e6, 1e-7}, {20e6, 1e-8}};
    m.compliance = 0.25;
    return m;
}

bool is_direct(Quantity what) {
    return what == Quantity::Ohms || what == Quantity::Diode || what == Quantity::Continuity || what == Quantity::Leakage;
}

BothWays read_both_ways(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black) {
    BothWays out{read_dc(solver, meter, what, red, black), read_dc(solver, meter, what, black, red), false};
    const double a = out.forward.value, b = out.reversed.value;
    out.polarity_matters = out.forward.over != out.reversed.over || (!out.forward.over && std::fabs(a - b) > 0.1 * std::max(a, b));
    return out;
}

MeterReading read_dc(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black) {
    if (what == Quantity::Diode) return read_diode(solver, meter, red, black);
    if (what == Quantity::Leakage) return read_leakage(solver, meter, red, black);
    MeterReading reading = read_ohms(solver, meter, red, black);
    if (what == Quantity::Continuity) {
        reading.value = !reading.over && reading.value < meter.continuity_ohms ? 1 : 0;
        reading.over = false;
        reading.ln_sigma = 0;
    }
    return reading;
}

MeterReading read_ac(const AcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black) {
    MeterReading reading;
    if (red == black) return reading;
    const auto z = solver.impedance(red, black);
    if (what == Quantity::Esr) {
        reading.value = std::max(0.0, z.ohms.real()) + meter.leads;
        reading.ln_sigma = z.real_ln_sigma;
        if (reading.value > meter.esr_over) return over_reading();
        return reading;
    }
    const double reactance = -z.ohms.imag();
    if (reactance <= 0) { // the meter sees no capacitor at all
        reading.value = 0;
        return reading;
    }
    reading.value = 1 / (2 * std::numbers::pi * meter.farads_hertz * reactance);
    reading.ln_sigma = z.reactance_ln_sigma;
    return reading;
}

} // namespace ohmo
