// SPDX-License-Identifier: GPL-3.0-or-later
// Readings by alternating current: a sine at the meter's frequency, a square wave by its harmonics.
#include "belief/network.h"

#include "belief/axis.h"
#include "circuit/square_wave.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo::belief {
namespace {

constexpr double kTieAlternating = 1, kAlternatingFloor = 1e-11; // siemens: one node to earth; every node
constexpr double kPhase = 0.01;         // rad between volts and amperes that a capacitance meter does not tell apart
constexpr double kMostBlur = 5;         // of an axis: says nothing
constexpr double kMostWindingOhms = 20; // ln: an open winding
constexpr double kMostWindingLnOhms = 25;

} // namespace

double ln_esr(const Reservoir& of, double ln_farads, double esr) { return esr - of.follows * (ln_farads - of.from); }

std::complex<double> admittance(const Reservoir& of, double ln_farads, double esr, double omega) {
    const double c = std::exp(ln_farads);
    return 1.0 / std::complex<double>(std::exp(ln_esr(of, ln_farads, esr)) + of.loss / (omega * c), -1 / (omega * c));
}

Eigen::MatrixXcd impedances(const Core& core, double omega, const std::function<double(int)>& value) {
    const auto k = static_cast<Eigen::Index>(core.windings.size());
    Eigen::MatrixXcd out(k, k);
    for (Eigen::Index i = 0; i < k; ++i)
        for (Eigen::Index j = 0; j < k; ++j) {
            const auto &p = core.windings[static_cast<std::size_t>(i)], &q = core.windings[static_cast<std::size_t>(j)];
            out(i, j) = std::complex<double>(i == j ? std::exp(std::min(value(p.ohms), kMostWindingLnOhms)) : 0,
                                             omega * std::exp(0.5 * (value(p.henry) + value(q.henry))) * (i == j ? 1 : core.coupling));
        }
    return out;
}

double Network::omega(const Place& place) const {
    const auto& meter = m_meters[static_cast<std::size_t>(place.meter)];
    return 2 * std::numbers::pi *
           (place.what == Quantity::Farads    ? meter.farads_hertz
            : place.what == Quantity::Residue ? meter.square_hertz
                                              : meter.esr_hertz);
}

Network::Alternating& Network::factored(const Place& place, double w) {
    if (m_alternating.size() < m_out.size()) m_alternating.resize(m_out.size());
    auto& made = m_alternating[static_cast<std::size_t>(place.setting)];
    auto at = made.find(w);
    if (at == made.end()) {
        Eliminated<Complex> g(*m_order, kAlternatingFloor);
        g.add_to_earth(0, kTieAlternating);
        for (const auto& c : m_circuit.conductors)
            if (!c.winding && !is_out(place.setting, c.unit)) g.add(c.a, c.b, siemens(value(c.ohms)));
        for (const auto& c : m_circuit.reservoirs)
            if (!is_out(place.setting, c.unit)) g.add(c.a, c.b, admittance(c, value(c.farads), value(c.esr), w));
        for (const auto& core : m_circuit.cores) {
            if (is_out(place.setting, core.windings.front().unit)) continue;
            const int k = static_cast<int>(core.windings.size());
            const Eigen::MatrixXcd y = impedances(core, w, [&](int u) { return value(u); }).inverse();
            for (int i = 0; i < k; ++i) {
                const auto& p = core.windings[static_cast<std::size_t>(i)];
                g.add(p.a, p.b, y(i, i));
                for (int j = 0; j < i; ++j) { // once for both, as the matrix is
                    const auto& q = core.windings[static_cast<std::size_t>(j)];
                    g.add_between(p.a, q.a, y(i, j));
                    g.add_between(p.b, q.b, y(i, j));
                    g.add_between(p.a, q.b, -y(i, j));
                    g.add_between(p.b, q.a, -y(i, j));
                }
            }
        }
        g.eliminate();
        at = made.emplace(w, Alternating{std::move(g), std::nullopt}).first;
    }
    return at->second;
}

Eigen::VectorXcd Network::node_volts(const Place& place, double w) {
    Eigen::VectorXcd v = Eigen::VectorXcd::Zero(m_circuit.nodes);
    v(place.red) += 1;
    v(place.black) -= 1;
    return factored(place, w).matrix.solve(v);
}

const Eigen::MatrixXcd& Network::alternating(const Place& place) {
    auto& made = factored(place, omega(place));
    if (!made.inverse) made.inverse = made.matrix.inverse();
    return *made.inverse;
}

namespace {

Eigen::VectorXcd across_windings(const Core& core, const Eigen::VectorXcd& v) {
    Eigen::VectorXcd across(static_cast<Eigen::Index>(core.windings.size()));
    for (Eigen::Index k = 0; k < across.size(); ++k) {
        const auto& winding = core.windings[static_cast<std::size_t>(k)];
        across(k) = v(winding.a) - v(winding.b);
    }
    return across;
}

} // namespace

// Ohms by which the reading moves for each logarithm of what the windings have of inductance: where that is as much as the reading itself,
// a capacitor and a winding swing against each other, and what is shown follows from henries that nobody knows. The second term of the
// series goes into the blur.
double Network::wound_share(const Place& place, const Eigen::VectorXcd& v, double w) const {
    double sum = 0;
    for (const auto& core : m_circuit.cores) {
        if (is_out(place.setting, core.windings.front().unit)) continue;
        const Eigen::VectorXcd across = across_windings(core, v);
        if (across.cwiseAbs().maxCoeff() == 0) continue;
        const Eigen::VectorXcd i = impedances(core, w, [&](int u) { return value(u); }).partialPivLu().solve(across);
        sum += std::abs(across.cwiseProduct(i).sum());
    }
    return sum;
}

Forecast Network::read_alternating(const Place& place, const Shown* shown, bool want_slopes) {
    Forecast out;
    const double w = omega(place);
    const Eigen::VectorXcd v = node_volts(place, w);
    const Complex z = v(place.red) - v(place.black);
    double factor = 0; // dy per change of the real part of z (ESR), of its reactance (farads)
    if (place.what == Quantity::Farads) {
        const double reactance = -z.imag(), farads = 1 / (w * std::max(reactance, 1e-9));
        out.value = farads;
        out.over = reactance <= 0 || farads > kMostFarads / 2;
        out.y = (reactance <= 0 ? std::log(kMostFarads) : farads_axis(farads)) + value(meter_unknown(place, MeterUnknown::kFarads));
        if (reactance > 0)
            factor = -farads_axis_slope(farads) * farads / reactance;
        else if (shown != nullptr && !shown->over && shown->value > 0) // a winding has the better of it: the chord to what was shown
            factor = (farads_axis(shown->value) - std::log(kMostFarads)) / (1 / (w * shown->value) - reactance);
        const double drawn = wound_share(place, v, w) / std::max(std::abs(z), 1e-9);
        if (!(out.over && shown != nullptr && shown->over)) // what is no capacitor at all shows none, and there is nothing vague in that
            out.blur = std::min(kMostBlur, kPhase * std::fabs(z.real()) / std::max(std::fabs(reactance), 1e-9) + drawn * drawn / 2);
    } else {
        const double e = std::max(z.real(), 1e-6), share = kMostEsr / (e + kMostEsr);
        out.value = e;
        out.over = e > kMostEsr;
        out.y = esr_axis(e) + value(meter_unknown(place, MeterUnknown::kEsr));
        factor = share * share / (e * share + kLastDigitEsr);
    }
    if (!want_slopes) return out;
    out.slope = Eigen::VectorXd::Zero(static_cast<int>(m_values.size()));
    add_slopes(
        place, v, w, [&](Complex dz) { return (place.what == Quantity::Farads ? -dz.imag() : dz.real()) * factor; }, out);
    out.slope(meter_unknown(place, place.what == Quantity::Farads ? MeterUnknown::kFarads : MeterUnknown::kEsr)) = 1;
    return out;
}

// Each harmonic is divided between the generator's resistance and what stands between the leads. The trace's ends move with the harmonics
// and not along it, so that its height changes by the change of the two.
Forecast Network::read_square(const Place& place, bool want_slopes) {
    const auto& meter = m_meters[static_cast<std::size_t>(place.meter)];
    const auto harmonics = square_harmonics(meter);
    std::vector<Eigen::VectorXcd> v;
    std::vector<Complex> z, shares;
    for (const auto& h : harmonics) {
        v.push_back(node_volts(place, 2 * std::numbers::pi * h.hertz));
        z.push_back(v.back()(place.red) - v.back()(place.black));
        shares.push_back(h.volts * z.back() / (z.back() + meter.square_ohms));
    }
    const auto trace = square_trace(harmonics, shares);
    const double open = meter.square_open_volts(), left = std::max(open - trace.volts, 1e-3 * open);
    const double said = meter.square_ohms * trace.volts / left, share = kMostEsr / (said + kMostEsr);
    Forecast out;
    out.value = said;
    out.over = said > kMostEsr;
    out.y = esr_axis(said) + value(meter_unknown(place, MeterUnknown::kEsr));
    if (!want_slopes) return out;
    out.slope = Eigen::VectorXd::Zero(static_cast<int>(m_values.size()));
    const double factor = share * share / (said * share + kLastDigitEsr) * meter.square_ohms * open / (left * left); // dy per volt
    for (std::size_t k = 0; k < harmonics.size(); ++k) {
        const int order = harmonics[k].order;
        const double sine = std::sin(order * trace.highest_at) - std::sin(order * trace.lowest_at);
        const double cosine = std::cos(order * trace.highest_at) - std::cos(order * trace.lowest_at);
        const Complex by_z = harmonics[k].volts * meter.square_ohms / std::pow(z[k] + meter.square_ohms, 2);
        add_slopes(
            place, v[k], 2 * std::numbers::pi * harmonics[k].hertz,
            [&](Complex dz) { return factor * ((by_z * dz).real() * sine + (by_z * dz).imag() * cosine); }, out);
    }
    out.slope(meter_unknown(place, MeterUnknown::kEsr)) = 1;
    return out;
}

// `chain`: what the reading moves by for a change of the impedance between the leads.
void Network::add_slopes(const Place& place, const Eigen::VectorXcd& v, double w, const std::function<double(Complex)>& chain,
                         Forecast& out) const {
    for (const auto& c : m_circuit.conductors) {
        if (c.winding || is_out(place.setting, c.unit)) continue;
        const Complex d = v(c.a) - v(c.b);
        out.slope(c.ohms) += chain(d * d * siemens(value(c.ohms)));
    }
    for (const auto& c : m_circuit.reservoirs) {
        if (is_out(place.setting, c.unit)) continue;
        const Complex d = v(c.a) - v(c.b), y = admittance(c, value(c.farads), value(c.esr), w);
        const double farads = std::exp(value(c.farads));
        const double esr = std::exp(ln_esr(c, value(c.farads), value(c.esr)));
        const Complex by_farads = -(c.loss / (w * farads) + 1.0 / (Complex(0, 1) * w * farads)) - c.follows * esr;
        out.slope(c.farads) += chain(d * d * y * y * by_farads);
        out.slope(c.esr) += chain(d * d * y * y * esr);
    }
    for (const auto& core : m_circuit.cores) {
        if (is_out(place.setting, core.windings.front().unit)) continue;
        const Eigen::VectorXcd across = across_windings(core, v);
        const auto count = across.size();
        const Eigen::MatrixXcd zw = impedances(core, w, [&](int u) { return value(u); });
        const Eigen::VectorXcd i = zw.partialPivLu().solve(across);
        for (Eigen::Index k = 0; k < count; ++k) {
            const auto& winding = core.windings[static_cast<std::size_t>(k)];
            if (value(winding.ohms) >= kMostWindingOhms) continue;
            out.slope(winding.ohms) += chain(i(k) * i(k) * zw(k, k).real());
            Complex by_henry = i(k) * i(k) * Complex(0, zw(k, k).imag());
            for (Eigen::Index l = 0; l < count; ++l)
                if (l != k) by_henry += i(k) * i(l) * zw(k, l); // of half the logarithm, to and fro
            out.slope(winding.henry) += chain(by_henry);
        }
    }
}

} // namespace ohmo::belief
