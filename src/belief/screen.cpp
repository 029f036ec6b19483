// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/screen.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr double kCarries = 0.003; // of a reading's axis for e times the saturation current: the junction matters
constexpr double kLeastPivot = 0.005, kLeastOhms = 1e-3, kLeastAmps = 1e-13;
constexpr int kTried = 7; // values of a mode's own spread
constexpr double kTriedApart = 0.75;

} // namespace

Whereabouts Whereabouts::of(const Circuit& c, std::size_t unknowns) {
    Whereabouts out;
    out.conductors.resize(unknowns);
    out.junctions.resize(unknowns);
    out.reservoirs.resize(unknowns);
    for (std::size_t i = 0; i < c.conductors.size(); ++i)
        out.conductors[static_cast<std::size_t>(c.conductors[i].ohms)].push_back(static_cast<int>(i));
    for (std::size_t i = 0; i < c.junctions.size(); ++i)
        out.junctions[static_cast<std::size_t>(c.junctions[i].is)].push_back(static_cast<int>(i));
    for (std::size_t i = 0; i < c.reservoirs.size(); ++i) {
        out.reservoirs[static_cast<std::size_t>(c.reservoirs[i].farads)].push_back(static_cast<int>(i));
        out.reservoirs[static_cast<std::size_t>(c.reservoirs[i].esr)].push_back(static_cast<int>(i));
    }
    return out;
}

Screen::Screen(const Circuit& circuit, const Whereabouts& where, const Bench& bench, const std::vector<Unknown>& prior,
               const std::vector<Sight>& seen, const Fit& base)
    : m_circuit(circuit), m_where(where), m_bench(bench), m_seen(seen), m_base(base),
      m_network(circuit, bench.out, bench.meters, base.values) {
    if (seen.empty()) return;
    Eigen::VectorXd away(static_cast<Eigen::Index>(prior.size()));
    for (std::size_t i = 0; i < prior.size(); ++i) away(static_cast<Eigen::Index>(i)) = base.values[i] - prior[i].middle;
    m_innovation = base.slopes * away;
    for (std::size_t j = 0; j < seen.size(); ++j)
        m_innovation(static_cast<Eigen::Index>(j)) += base.slipped[j] != 0 ? 0 : base.residual[j] * seen[j].touch.noise;
    m_misfit = m_innovation.dot(base.innovation.solve(m_innovation));
}

double Screen::moved_direct(std::size_t reading, const Override& value, double to) {
    const auto& place = m_seen[reading].place;
    const auto& f = *m_base.forecasts[reading];
    double out = 0;
    for (int e : m_where.conductors[static_cast<std::size_t>(value.unknown)]) {
        const auto& c = m_circuit.conductors[static_cast<std::size_t>(e)];
        if (out_of(reading, c.unit)) continue;
        const double more = siemens(to) - siemens(at(value.unknown));
        if (std::fabs(more) < kLeastAmps) continue;
        const double across = std::max(0.0, m_network.between(place, f, c.a, c.b));
        const double dv = -(f.pull(c.a) - f.pull(c.b)) * (f.volts(c.a) - f.volts(c.b)) * more / std::max(kLeastPivot, 1 + more * across);
        if (place.what == Quantity::Diode) {
            out += dv * f.ohm_slope;
            continue;
        }
        const double v = std::max(1e-9, std::fabs(f.volts(place.red) - f.volts(place.black))), ohms = std::max(f.value, kLeastOhms);
        out += ohms_axis(std::max(kLeastOhms, ohms * (1 + std::max(-0.9999, dv / v)))) - ohms_axis(ohms);
    }
    return out;
}

double Screen::moved_alternating(std::size_t reading, const std::vector<Override>& values, double z_) {
    const auto& place = m_seen[reading].place;
    const auto& z = m_network.alternating(place);
    const double w = m_network.omega(place);
    const int a = place.red, b = place.black;
    const std::complex<double> whole = z(a, a) + z(b, b) - 2.0 * z(a, b);
    const auto axis = [&](std::complex<double> x) {
        return place.what == Quantity::Farads ? -std::log(std::max(1e-9, -x.imag())) : esr_axis(x.real());
    };
    double out = 0;
    const auto change = [&](int p, int q, std::complex<double> more) {
        const std::complex<double> through = (z(a, p) - z(b, p)) - (z(a, q) - z(b, q)), across = z(p, p) + z(q, q) - 2.0 * z(p, q);
        out += axis(whole - through * through * more / (1.0 + more * across)) - axis(whole);
    };
    std::vector<int> done;
    for (const auto& v : values) {
        for (int e : m_where.conductors[static_cast<std::size_t>(v.unknown)]) {
            const auto& c = m_circuit.conductors[static_cast<std::size_t>(e)];
            if (!c.winding && !out_of(reading, c.unit)) change(c.a, c.b, siemens(v.middle + z_ * v.spread) - siemens(at(v.unknown)));
        }
        for (int e : m_where.reservoirs[static_cast<std::size_t>(v.unknown)]) {
            const auto& c = m_circuit.reservoirs[static_cast<std::size_t>(e)];
            if (out_of(reading, c.unit) || std::find(done.begin(), done.end(), e) != done.end()) continue;
            done.push_back(e);
            double farads = at(c.farads), esr = at(c.esr);
            for (const auto& o : values) {
                if (o.unknown == c.farads) farads = o.middle + z_ * o.spread;
                if (o.unknown == c.esr) esr = o.middle + z_ * o.spread;
            }
            change(c.a, c.b, admittance(farads, esr, c.loss, w) - admittance(at(c.farads), at(c.esr), c.loss, w));
        }
    }
    return out;
}

std::optional<double> Screen::moved(std::size_t reading, const std::vector<Override>& values, double z) {
    if (!is_direct(m_seen[reading].place.what)) return moved_alternating(reading, values, z);
    double out = 0;
    for (const auto& v : values) {
        const auto& junctions = m_where.junctions[static_cast<std::size_t>(v.unknown)];
        if (!junctions.empty() && (v.middle < kJunctionGone) != (at(v.unknown) < kJunctionGone) &&
            !out_of(reading, m_circuit.junctions[static_cast<std::size_t>(junctions.front())].unit)) {
            if (at(v.unknown) < kJunctionGone) return std::nullopt; // may conduct again, where it was not looked at
            if (std::fabs(m_base.forecasts[reading]->slope(v.unknown)) > kCarries) return std::nullopt;
        }
        out += moved_direct(reading, v, v.middle + z * v.spread);
    }
    return out;
}

std::optional<double> Screen::gain(const std::vector<Override>& values) {
    double best = -1e9;
    const auto count = static_cast<Eigen::Index>(m_seen.size());
    Eigen::VectorXd d(count);
    for (int k = 0; k < kTried; ++k) {
        const double z = (k - kTried / 2) * kTriedApart;
        for (Eigen::Index j = 0; j < count; ++j) {
            const auto one = moved(static_cast<std::size_t>(j), values, z);
            if (!one) return std::nullopt;
            d(j) = m_base.slipped[static_cast<std::size_t>(j)] != 0 ? 0 : *one;
        }
        const Eigen::VectorXd e = m_innovation - d;
        best = std::max(best, 0.5 * (m_misfit - e.dot(m_base.innovation.solve(e))) - 0.5 * z * z);
    }
    return best < 0 ? -7 * std::log1p(-best / 7) : best; // far off the sums exaggerate
}

} // namespace ohmo::belief
