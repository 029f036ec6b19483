// SPDX-License-Identifier: GPL-3.0-or-later
// Ohmmeter: a current source with an open-circuit voltage; the lowest range that holds the reading shows it. Near a range boundary the
// meter may settle on either range, so the neighbour's value is given as an alternate where junctions make the two differ.
#include "circuit/meter.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kBoundary = 0.05;    // share of full scale in which either range may be taken
constexpr double kEdgeDeviations = 2; // of the reading's spread: the same for boards whose parts are known less well
constexpr double kSettleSeconds = 2.0;
constexpr double kLossyShare = 0.15, kHiddenAt = 2, kLossiest = 4.5; // resistance over reactance

// Deviations of what capacitors have, apart from the elements that direct current sees: their capacitance, their series resistance.
template <class Share>
std::vector<Deviation> by_capacitor(const AcImpedance& z, Share share) {
    constexpr int capacitance = -2, resistance = -1;
    std::vector<Deviation> out;
    for (const auto& c : z.capacitors) {
        const Deviation more{c.part, c.resistance ? resistance : capacitance, share(c.change), c.sigma};
        const auto same = std::find_if(out.begin(), out.end(), [&](const Deviation& d) { return d.same_as(more); });
        if (same == out.end())
            out.push_back(more);
        else
            same->change += more.change;
    }
    std::sort(out.begin(), out.end(), [](const Deviation& a, const Deviation& b) { return a.before(b); });
    return out;
}

MeterReading over_reading() {
    MeterReading r;
    r.over = true;
    return r;
}

MeterReading from_point(const DcPoint& point, double value) {
    MeterReading r;
    r.value = value;
    r.ln_sigma = point.ln_sigma;
    r.by_part = point.by_part;
    r.settle_seconds = point.slowest_seconds;
    r.rising = point.slowest_seconds > kSettleSeconds;
    r.conducting = point.conducting;
    r.converged = point.converged;
    r.failed_part = point.failed_part;
    return r;
}

// The lowest range that holds the reading, with few solves: volts only rise with the current, ohms only fall (junctions open up), so one
// solved range rules out others on both sides.
class RangeFinder {
public:
    RangeFinder(const DcSolver& solver, const MeterProfile& meter, int red, int black, const ReadingHint* hint)
        : m_solver(solver), m_meter(meter), m_red(red), m_black(black), m_hint(hint) {}

    MeterReading run(ReadingHint* learn) const {
        const std::size_t count = m_meter.ohms.size();
        std::vector<std::optional<double>> volts(count);
        std::vector<Eigen::VectorXd> ports(count);
        std::optional<DcPoint> full; // at the hinted range, the likely one
        const auto solved = [&](std::size_t k) -> double {
            if (!volts[k]) {
                if (m_hint != nullptr && k < m_hint->port_volts.size()) ports[k] = m_hint->port_volts[k];
                for (std::size_t other = 0; other < count && ports[k].size() == 0; ++other)
                    if (volts[other]) ports[k] = ports[other];
                const bool likely = m_hint != nullptr && k == m_hint->range;
                const DcPoint p =
                    m_solver.solve(m_red, m_black, m_meter.ohms[k].amps, likely ? DcDetail::Full : DcDetail::Volts, &ports[k]);
                if (likely) full = p;
                volts[k] = p.volts + m_meter.leads * m_meter.ohms[k].amps;
                if (!p.converged) m_failed = p;
            }
            return *volts[k];
        };
        const auto limit = [&](std::size_t k) {
            const auto& r = m_meter.ohms[k];
            return std::min({r.full * r.amps, m_meter.compliance, m_meter.over * r.amps});
        };
        const auto ruled_out = [&](std::size_t k) {
            for (std::size_t other = 0; other < count; ++other) {
                if (!volts[other] || other == k) continue;
                const bool stronger = m_meter.ohms[k].amps >= m_meter.ohms[other].amps; // at least as many volts there
                if (stronger && *volts[other] > limit(k)) return true;
                if (!stronger && 0.98 * *volts[other] / m_meter.ohms[other].amps > m_meter.ohms[k].full) return true;
            }
            return false;
        };
        if (m_hint != nullptr && m_hint->range < count) solved(m_hint->range);
        std::size_t chosen = count;
        for (std::size_t k = 0; k < count && chosen == count; ++k)
            if (!ruled_out(k) && solved(k) <= limit(k)) chosen = k;
        if (learn != nullptr) *learn = {std::min(chosen, count - 1), ports};
        if (m_failed) return from_point(*m_failed, m_failed->volts);
        if (chosen == count) return over_reading();
        const double amps = m_meter.ohms[chosen].amps;
        const bool have = full && m_hint != nullptr && m_hint->range == chosen;
        const DcPoint point = have ? *full : m_solver.solve(m_red, m_black, amps, DcDetail::Full, &ports[chosen]);
        const double ohms = point.volts / amps + m_meter.leads;
        MeterReading reading = from_point(point, ohms);
        // Near the edge of a range the tolerances decide which one the meter takes; its other current may read quite another value.
        const double edge = std::max(kBoundary, kEdgeDeviations * reading.ln_sigma);
        const auto edges_on = [&](std::size_t k) {
            const double other = solved(k) / m_meter.ohms[k].amps + m_meter.leads;
            if (std::fabs(other / ohms - 1) > 0.02) reading.alternate = other;
        };
        if (chosen + 1 < count && *volts[chosen] > limit(chosen) * std::exp(-edge))
            edges_on(chosen + 1);
        else if (chosen > 0 && !far_over(volts, chosen - 1, limit(chosen - 1) * std::exp(edge)) &&
                 solved(chosen - 1) < limit(chosen - 1) * std::exp(edge))
            edges_on(chosen - 1);
        return reading;
    }

private:
    // Whether a range with less current already has more volts than that.
    bool far_over(const std::vector<std::optional<double>>& volts, std::size_t k, double most) const {
        for (std::size_t other = 0; other < volts.size(); ++other)
            if (volts[other] && other != k && m_meter.ohms[k].amps >= m_meter.ohms[other].amps && *volts[other] > most) return true;
        return false;
    }

    const DcSolver& m_solver;
    const MeterProfile& m_meter;
    int m_red, m_black;
    const ReadingHint* m_hint;
    mutable std::optional<DcPoint> m_failed;
};

MeterReading read_ohms(const DcSolver& solver, const MeterProfile& meter, int red, int black, const ReadingHint* hint, ReadingHint* learn) {
    if (red == black) {
        MeterReading r;
        r.value = meter.leads;
        return r;
    }
    if (!solver.connected(red, black)) return over_reading();
    const RangeFinder finder(solver, meter, red, black, hint);
    return finder.run(learn);
}

MeterReading read_diode(const DcSolver& solver, const MeterProfile& meter, int red, int black, const ReadingHint* hint,
                        ReadingHint* learn) {
    if (red == black) return {};
    if (!solver.connected(red, black)) return over_reading();
    Eigen::VectorXd ports;
    if (hint != nullptr && !hint->port_volts.empty()) ports = hint->port_volts.front();
    const DcPoint point = solver.solve(red, black, meter.diode_amps, DcDetail::Full, &ports);
    if (learn != nullptr) *learn = {0, {ports}};
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

MeterProfile milliohm_meter() {
    MeterProfile m;
    m.id = "milliohm";
    m.ohms = {{0.2, 1}, {2, 0.1}, {20, 0.01}, {200, 1e-3}};
    m.compliance = 0.25;
    m.over = 200;
    m.residue = 5e-4;
    m.accuracy = 0.005;
    return m;
}

bool under_power(Quantity what) { return what == Quantity::VoltsDirect || what == Quantity::VoltsAlternating; }

bool is_direct(Quantity what) {
    return what == Quantity::Ohms || what == Quantity::Diode || what == Quantity::Continuity || what == Quantity::Leakage;
}

BothWays read_both_ways(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black) {
    BothWays out{read_dc(solver, meter, what, red, black), read_dc(solver, meter, what, black, red), false};
    const double a = out.forward.value, b = out.reversed.value;
    out.polarity_matters = out.forward.over != out.reversed.over || (!out.forward.over && std::fabs(a - b) > 0.1 * std::max(a, b));
    return out;
}

MeterReading read_dc(const DcSolver& solver, const MeterProfile& meter, Quantity what, int red, int black, const ReadingHint* hint,
                     ReadingHint* learn) {
    if (what == Quantity::Diode) return read_diode(solver, meter, red, black, hint, learn);
    if (what == Quantity::Leakage) return read_leakage(solver, meter, red, black);
    MeterReading reading = read_ohms(solver, meter, red, black, hint, learn);
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
        if (reading.value > 0) reading.by_part = by_capacitor(z, [&](std::complex<double> ohms) { return ohms.real() / reading.value; });
        if (reading.value > meter.esr_over) return over_reading();
        return reading;
    }
    // Meters that time a charge or take the whole impedance for a capacitor's are off by the more the lossier it is; where resistance is
    // nearly all there is, whether they find a capacitor at all is chance (common practice, no source).
    const double resistance = std::max(0.0, z.ohms.real()), seen = -z.ohms.imag();
    const bool hidden = resistance > kHiddenAt * std::fabs(seen);
    if (seen <= 0 && !hidden) { // inductive: none
        reading.value = 0;
        return reading;
    }
    const double reactance = std::max(std::fabs(seen), resistance / kLossiest), loss = resistance / reactance;
    reading.value = 1 / (2 * std::numbers::pi * meter.farads_hertz * reactance);
    if (hidden) reading.alternate = 0;
    reading.ln_sigma = std::hypot(z.reactance_ln_sigma * std::fabs(seen) / reactance, kLossyShare * loss * loss);
    reading.by_part = by_capacitor(z, [&](std::complex<double> ohms) { return ohms.imag() / reactance; });
    return reading;
}

} // namespace ohmo
