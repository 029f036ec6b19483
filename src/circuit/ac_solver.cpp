// SPDX-License-Identifier: GPL-3.0-or-later
// Method: complex nodal admittances; the windings of one core enter as the inverse of their impedance matrix diag(R) + jw M, so no branch
// currents are needed. Changed elements update the inverse by the rank-one formula of J. Sherman and W. J. Morrison (1950) as long as it
// does not cancel. Spreads from dZ = -(v_e)^2 dY_e, the network being reciprocal.
#include "circuit/ac_solver.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace ohmo {
namespace {

using Complex = std::complex<double>;

constexpr double kWorthTelling = 1e-3; // of the impedance
constexpr double kLeastDivisor = 1e-4; // below this an update loses more than four of sixteen digits

Complex capacitor_admittance(const Capacitive& c, double omega) { return 1.0 / Complex(c.esr, -1.0 / (omega * c.farads)); }

Eigen::MatrixXcd core_impedance(const WindingSet& core, double omega) {
    const auto n = static_cast<Eigen::Index>(core.windings.size());
    Eigen::MatrixXcd z(n, n);
    for (Eigen::Index i = 0; i < n; ++i)
        for (Eigen::Index k = 0; k < n; ++k) {
            const auto &a = core.windings[static_cast<std::size_t>(i)], &b = core.windings[static_cast<std::size_t>(k)];
            const double m = i == k ? a.henry : core.coupling * std::sqrt(a.henry * b.henry);
            z(i, k) = Complex(i == k ? std::max(a.ohms, 1e-3) : 0.0, omega * m);
        }
    return z;
}

Eigen::MatrixXcd core_admittance(const WindingSet& core, double omega) { return core_impedance(core, omega).partialPivLu().inverse(); }

} // namespace

std::vector<AcLeak> ac_leaks(const Netlist& net) {
    std::vector<AcLeak> out;
    for (const auto& j : net.junctions) out.push_back({j.anode, j.cathode, j.is / (j.n * kThermalVolts) + kJunctionLeak});
    for (const auto& q : net.bipolars) {
        out.push_back({q.b, q.e, q.is / (q.forward_gain * kThermalVolts) + kJunctionLeak});
        out.push_back({q.b, q.c, q.is / (q.reverse_gain * kThermalVolts) + kJunctionLeak});
    }
    for (const auto& m : net.channels) {
        out.push_back({m.d, m.s, kJunctionLeak});
        out.push_back({m.g, m.s, kJunctionLeak});
    }
    return out;
}

AcSolver::AcSolver(Netlist netlist, double hertz) : m_net(std::move(netlist)), m_omega(2 * std::numbers::pi * hertz) {
    const Eigen::Index n = m_net.nodes;
    Eigen::MatrixXcd y = Eigen::MatrixXcd::Zero(n, n);
    const auto stamp = [&](int a, int b, Complex siemens) {
        y(a, a) += siemens;
        y(b, b) += siemens;
        y(a, b) -= siemens;
        y(b, a) -= siemens;
    };
    for (const auto& r : m_net.resistors) stamp(r.a, r.b, 1 / r.ohms);
    for (const auto& l : ac_leaks(m_net)) stamp(l.a, l.b, l.siemens);
    for (const auto& c : m_net.capacitors) stamp(c.a, c.b, capacitor_admittance(c, m_omega));
    for (const auto& core : m_net.cores) {
        const auto w = core_admittance(core, m_omega);
        for (std::size_t i = 0; i < core.windings.size(); ++i)
            for (std::size_t k = 0; k < core.windings.size(); ++k) {
                const Complex s = w(static_cast<Eigen::Index>(i), static_cast<Eigen::Index>(k));
                const auto &p = core.windings[i], &q = core.windings[k];
                y(p.a, q.a) += s;
                y(p.b, q.b) += s;
                y(p.a, q.b) -= s;
                y(p.b, q.a) -= s;
            }
    }
    find_islands();
    // A balanced test current never reaches the ground of its island, so this changes nothing but makes the matrix well conditioned.
    std::vector<char> grounded(static_cast<std::size_t>(n), 0);
    for (Eigen::Index i = 0; i < n; ++i)
        if (char& done = grounded[static_cast<std::size_t>(m_island[static_cast<std::size_t>(i)])]; !done) {
            y(i, i) += 1.0;
            done = 1;
        }
    m_inverse = std::make_shared<const Eigen::MatrixXcd>(y.partialPivLu().inverse());
}

void AcSolver::find_islands() {
    m_island.resize(static_cast<std::size_t>(m_net.nodes));
    std::iota(m_island.begin(), m_island.end(), 0);
    const auto root = [&](int a) {
        while (m_island[static_cast<std::size_t>(a)] != a) a = m_island[static_cast<std::size_t>(a)];
        return a;
    };
    const auto join = [&](int a, int b) { m_island[static_cast<std::size_t>(root(a))] = root(b); };
    for (const auto& r : m_net.resistors) join(r.a, r.b);
    for (const auto& j : m_net.junctions) join(j.anode, j.cathode);
    for (const auto& q : m_net.bipolars) {
        join(q.b, q.e);
        join(q.b, q.c);
    }
    for (const auto& m : m_net.channels) {
        join(m.d, m.s);
        join(m.g, m.s);
    }
    for (const auto& c : m_net.capacitors) join(c.a, c.b);
    for (const auto& core : m_net.cores)
        for (const auto& w : core.windings) join(w.a, w.b);
    for (int i = 0; i < m_net.nodes; ++i) m_island[static_cast<std::size_t>(i)] = root(i);
}

double AcSolver::hertz() const { return m_omega / (2 * std::numbers::pi); }

Eigen::VectorXcd AcSolver::between(int a, int b) const {
    Eigen::VectorXcd v = m_inverse->col(a) - m_inverse->col(b);
    for (const auto& u : m_updates) v.noalias() -= u.column * (u.factor * (u.column[a] - u.column[b]));
    return v;
}

bool AcSolver::update(int a, int b, Complex siemens) {
    Eigen::VectorXcd column = between(a, b);
    const Complex divisor = 1.0 + siemens * (column[a] - column[b]);
    if (std::abs(divisor) < kLeastDivisor) return false;
    m_updates.push_back({std::move(column), siemens / divisor});
    return true;
}

std::optional<AcSolver> AcSolver::changed(const AcChange& change) const {
    const auto joined = [&](int a, int b) { return m_island[static_cast<std::size_t>(a)] == m_island[static_cast<std::size_t>(b)]; };
    AcSolver out(*this);
    for (const auto& r : change.added) {
        if (!joined(r.a, r.b) || !out.update(r.a, r.b, 1 / r.ohms)) return std::nullopt;
        out.m_net.resistors.push_back(r);
    }
    for (const auto& c : change.added_capacitors) {
        if (!joined(c.a, c.b) || !out.update(c.a, c.b, capacitor_admittance(c, m_omega))) return std::nullopt;
        out.m_net.capacitors.push_back(c);
    }
    for (const auto& l : change.added_leaks)
        if (!joined(l.a, l.b) || !out.update(l.a, l.b, l.siemens)) return std::nullopt;
    for (const auto& l : change.removed_leaks)
        if (!out.update(l.a, l.b, -l.siemens)) return std::nullopt;
    for (const auto& r : change.removed) {
        if (!out.update(r.a, r.b, -1 / r.ohms)) return std::nullopt;
        if (const auto at = std::find(out.m_net.resistors.begin(), out.m_net.resistors.end(), r); at != out.m_net.resistors.end())
            out.m_net.resistors.erase(at);
    }
    for (const auto& c : change.removed_capacitors) {
        if (!out.update(c.a, c.b, -capacitor_admittance(c, m_omega))) return std::nullopt;
        if (const auto at = std::find(out.m_net.capacitors.begin(), out.m_net.capacitors.end(), c); at != out.m_net.capacitors.end())
            out.m_net.capacitors.erase(at);
    }
    return out;
}

AcImpedance AcSolver::impedance(int from, int to) const {
    if (m_island[static_cast<std::size_t>(from)] != m_island[static_cast<std::size_t>(to)]) return {kOpenOhms, 0.1, 0.1, {}};
    const Eigen::VectorXcd v = between(from, to);
    AcImpedance out;
    out.ohms = v[from] - v[to];
    double real = 0, imag = 0;
    const auto add = [&](Complex dz, double sigma) {
        real += std::pow(dz.real() * sigma, 2);
        imag += std::pow(dz.imag() * sigma, 2);
    };
    for (const auto& r : m_net.resistors) {
        const Complex e = v[r.a] - v[r.b];
        add(e * e / r.ohms, r.ln_sigma);
    }
    for (const auto& core : m_net.cores) { // the current of each winding, times what its resistance and its inductance drop
        Eigen::VectorXcd across(static_cast<Eigen::Index>(core.windings.size()));
        for (std::size_t i = 0; i < core.windings.size(); ++i)
            across[static_cast<Eigen::Index>(i)] = v[core.windings[i].a] - v[core.windings[i].b];
        if (across.cwiseAbs().maxCoeff() < kWorthTelling * std::abs(out.ohms)) continue;
        const Eigen::MatrixXcd z = core_impedance(core, m_omega);
        const Eigen::VectorXcd amps = z.partialPivLu().solve(across);
        const Eigen::MatrixXcd reactance = Complex(0, 1) * z.imag().cast<Complex>();
        for (Eigen::Index i = 0; i < amps.size(); ++i) {
            add(amps[i] * amps[i] * z(i, i).real(), core.ln_sigma);
            add(amps[i] * (reactance.row(i) * amps)(0), core.henry_ln_sigma);
        }
    }
    const double worth = kWorthTelling * std::abs(out.ohms);
    const auto capacitor = [&](int part, bool resistance, Complex dz, double sigma) {
        add(dz, sigma);
        if (std::abs(dz) * sigma > worth) out.capacitors.push_back({part, resistance, sigma, dz * sigma});
    };
    for (const auto& c : m_net.capacitors) {
        const Complex e = v[c.a] - v[c.b], y = capacitor_admittance(c, m_omega);
        capacitor(c.part, true, e * e * y * y * c.esr, c.esr_ln_sigma);
        capacitor(c.part, false, e * e * y * y * Complex(0, 1.0 / (m_omega * c.farads)), c.ln_sigma);
    }
    std::stable_sort(out.capacitors.begin(), out.capacitors.end(), [](const auto& a, const auto& b) { return a.part < b.part; });
    out.real_ln_sigma = std::sqrt(real) / std::max(std::fabs(out.ohms.real()), 1e-6);
    out.reactance_ln_sigma = std::sqrt(imag) / std::max(std::fabs(out.ohms.imag()), 1e-9);
    return out;
}

} // namespace ohmo
