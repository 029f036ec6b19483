// SPDX-License-Identifier: GPL-3.0-or-later
// Method: nodal conductances with every junction's zero-bias conductance stamped in; one Cholesky inverse per island; the junctions'
// remaining current h(v) = i(v) - g0 v solved by Newton at their ports, v = v0 - Z h(v), over an active set that grows until no inactive
// junction carries more than 1e-7 of the test current. Junction voltage limiting as in L. W. Nagel, SPICE2, UCB/ERL M520 (1975).
// Sensitivities by the adjoint network (S. W. Director and R. A. Rohrer, 1969): the small-signal network is reciprocal here.
#include "circuit/dc_solver.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace ohmo {
namespace {

constexpr double kConnectOhms = 5e8; // what is more than this does not join two islands

double zero_bias(const Junction& j) { return j.is / (j.n * kThermalVolts); }

struct Law {
    double current, slope;
};

// Junction current beyond its stamped zero-bias conductance.
Law excess(const Junction& j, double v) {
    const double vt = j.n * kThermalVolts;
    const double x = std::min(v / vt, 200.0);
    const double e = std::exp(x);
    Law law{j.is * (e - 1.0) - zero_bias(j) * v, j.is / vt * e - zero_bias(j)};
    if (j.bv > 0 && v < -j.bv + 20 * kThermalVolts * 3) {
        const double b = std::exp(std::min((-v - j.bv) / kThermalVolts, 200.0));
        law.current -= 1e-3 * b;
        law.slope += 1e-3 / kThermalVolts * b;
    }
    return law;
}

// Keeps a Newton step from running up the exponential.
double limited(const Junction& j, double wanted, double old) {
    const double vt = j.n * kThermalVolts;
    const double critical = vt * std::log(vt / (std::sqrt(2.0) * j.is));
    if (wanted > critical && std::fabs(wanted - old) > 2 * vt) {
        if (old <= 0) return vt * std::log(std::max(wanted / vt, 1.0));
        const double arg = 1 + (wanted - old) / vt;
        return arg > 0 ? old + vt * std::log(arg) : critical;
    }
    if (j.bv > 0 && wanted < -j.bv && old - wanted > 3 * kThermalVolts)
        return std::max(wanted, std::min(old, -j.bv + 0.3) - 3 * kThermalVolts);
    return wanted;
}

} // namespace

DcSolver::DcSolver(Netlist netlist) : m_net(std::move(netlist)) {
    find_islands();
    for (auto& island : m_islands) factor(island);
}

void DcSolver::find_islands() {
    std::vector<int> parent(static_cast<std::size_t>(m_net.nodes));
    std::iota(parent.begin(), parent.end(), 0);
    const auto root = [&](int n) {
        while (parent[static_cast<std::size_t>(n)] != n)
            n = parent[static_cast<std::size_t>(n)] = parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(n)])];
        return n;
    };
    const auto join = [&](int a, int b) { parent[static_cast<std::size_t>(root(a))] = root(b); };
    for (const auto& r : m_net.resistors)
        if (r.ohms < kConnectOhms) join(r.a, r.b);
    for (const auto& j : m_net.junctions) join(j.anode, j.cathode);
    for (const auto& core : m_net.cores)
        for (const auto& w : core.windings)
            if (w.ohms < kConnectOhms) join(w.a, w.b);

    m_island.assign(static_cast<std::size_t>(m_net.nodes), -1);
    m_row.assign(static_cast<std::size_t>(m_net.nodes), 0);
    std::vector<int> number(static_cast<std::size_t>(m_net.nodes), -1);
    for (int n = 0; n < m_net.nodes; ++n) {
        int& id = number[static_cast<std::size_t>(root(n))];
        if (id < 0) {
            id = static_cast<int>(m_islands.size());
            m_islands.emplace_back();
        }
        auto& island = m_islands[static_cast<std::size_t>(id)];
        m_island[static_cast<std::size_t>(n)] = id;
        m_row[static_cast<std::size_t>(n)] = static_cast<int>(island.nodes.size());
        island.nodes.push_back(n);
    }
    const auto home = [&](int a, int b) { return connected(a, b) ? &m_islands[static_cast<std::size_t>(island(a))] : nullptr; };
    for (std::size_t k = 0; k < m_net.resistors.size(); ++k)
        if (auto* i = home(m_net.resistors[k].a, m_net.resistors[k].b)) i->resistors.push_back(static_cast<int>(k));
    for (std::size_t k = 0; k < m_net.junctions.size(); ++k)
        home(m_net.junctions[k].anode, m_net.junctions[k].cathode)->junctions.push_back(static_cast<int>(k));
    for (std::size_t k = 0; k < m_net.capacitors.size(); ++k)
        if (auto* i = home(m_net.capacitors[k].a, m_net.capacitors[k].b)) i->capacitors.push_back(static_cast<int>(k));
    for (std::size_t c = 0; c < m_net.cores.size(); ++c)
        for (std::size_t w = 0; w < m_net.cores[c].windings.size(); ++w)
            if (auto* i = home(m_net.cores[c].windings[w].a, m_net.cores[c].windings[w].b))
                i->windings.emplace_back(static_cast<int>(c), static_cast<int>(w));
}

void DcSolver::factor(Island& island) const {
    const auto size = static_cast<Eigen::Index>(island.nodes.size());
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(size, size);
    const auto stamp = [&](int a, int b, double siemens) {
        const int i = m_row[static_cast<std::size_t>(a)], k = m_row[static_cast<std::size_t>(b)];
        g(i, i) += siemens;
        g(k, k) += siemens;
        g(i, k) -= siemens;
        g(k, i) -= siemens;
    };
    for (int k : island.resistors)
        stamp(m_net.resistors[static_cast<std::size_t>(k)].a, m_net.resistors[static_cast<std::size_t>(k)].b,
              1 / m_net.resistors[static_cast<std::size_t>(k)].ohms);
    for (auto [c, w] : island.windings) {
        const auto& wind = m_net.cores[static_cast<std::size_t>(c)].windings[static_cast<std::size_t>(w)];
        if (wind.a != wind.b) stamp(wind.a, wind.b, 1 / std::max(wind.ohms, 1e-3));
    }
    for (int k : island.junctions) {
        const auto& j = m_net.junctions[static_cast<std::size_t>(k)];
        stamp(j.anode, j.cathode, zero_bias(j) + kJunctionLeak);
    }
    island.inverse = Eigen::MatrixXd::Zero(size, size);
    if (size > 1) {
        const Eigen::Index m = size - 1;
        island.inverse.topLeftCorner(m, m) = g.topLeftCorner(m, m).llt().solve(Eigen::MatrixXd::Identity(m, m));
    }
}

DcPoint DcSolver::solve(int from, int to, double amps) const {
    const Island& island = m_islands[static_cast<std::size_t>(m_island[static_cast<std::size_t>(from)])];
    const auto& z = island.inverse;
    const int f = m_row[static_cast<std::size_t>(from)], t = m_row[static_cast<std::size_t>(to)];
    const auto count = static_cast<Eigen::Index>(island.junctions.size());
    const Eigen::VectorXd unit = z.col(f) - z.col(t); // node volts for one ampere
    const auto row = [&](Eigen::Index k, bool anode) {
        const auto& j = m_net.junctions[static_cast<std::size_t>(island.junctions[static_cast<std::size_t>(k)])];
        return m_row[static_cast<std::size_t>(anode ? j.anode : j.cathode)];
    };
    const auto junction = [&](Eigen::Index k) -> const Junction& {
        return m_net.junctions[static_cast<std::size_t>(island.junctions[static_cast<std::size_t>(k)])];
    };

    Eigen::VectorXd v0(count), v(count);
    for (Eigen::Index k = 0; k < count; ++k) v0[k] = amps * (unit[row(k, true)] - unit[row(k, false)]);
    v = v0;
    const double threshold = std::fabs(amps) * 1e-7;
    std::vector<Eigen::Index> active;
    std::vector<char> is_active(static_cast<std::size_t>(count), 0);
    const auto grow = [&] {
        const auto before = active.size();
        for (Eigen::Index k = 0; k < count; ++k)
            if (!is_active[static_cast<std::size_t>(k)] && std::fabs(excess(junction(k), v[k]).current) > threshold) {
                is_active[static_cast<std::size_t>(k)] = 1;
                active.push_back(k);
            }
        return active.size() > before;
    };
    const auto transfer = [&](Eigen::Index a, Eigen::Index b) {
        return z(row(a, true), row(b, true)) - z(row(a, true), row(b, false)) - z(row(a, false), row(b, true)) +
               z(row(a, false), row(b, false));
    };

    DcPoint point;
    Eigen::VectorXd h; // excess currents of the active junctions
    while (grow()) {
        const auto n = static_cast<Eigen::Index>(active.size());
        Eigen::MatrixXd zz(n, n);
        Eigen::VectorXd base(n), va(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const auto& j = junction(active[static_cast<std::size_t>(i)]);
            base[i] = v0[active[static_cast<std::size_t>(i)]];
            va[i] = std::clamp(v[active[static_cast<std::size_t>(i)]], j.bv > 0 ? -j.bv : -1e4, 0.3);
            for (Eigen::Index k = 0; k < n; ++k)
                zz(i, k) = transfer(active[static_cast<std::size_t>(i)], active[static_cast<std::size_t>(k)]);
        }
        bool settled = false;
        h.resize(n);
        for (int iteration = 0; iteration < 200 && !settled; ++iteration) {
            Eigen::MatrixXd jacobian = Eigen::MatrixXd::Identity(n, n);
            for (Eigen::Index i = 0; i < n; ++i) {
                const Law law = excess(junction(active[static_cast<std::size_t>(i)]), va[i]);
                h[i] = law.current;
                jacobian.col(i) += zz.col(i) * law.slope;
            }
            const Eigen::VectorXd step = jacobian.partialPivLu().solve(base - va - zz * h);
            double change = 0, scale_volts = 1;
            for (Eigen::Index i = 0; i < n; ++i) {
                const double wanted = va[i] + step[i];
                const double next = limited(junction(active[static_cast<std::size_t>(i)]), wanted, va[i]);
                change = std::max({change, std::fabs(next - va[i]), std::fabs(next - wanted)});
                va[i] = next;
                scale_volts = std::max(scale_volts, std::fabs(next));
            }
            settled = change < 1e-10 * scale_volts; // an open source pushes a floating node to kilovolts
        }
        point.converged = point.converged && settled;
        for (Eigen::Index i = 0; i < n; ++i) h[i] = excess(junction(active[static_cast<std::size_t>(i)]), va[i]).current;
        for (Eigen::Index k = 0; k < count; ++k) {
            v[k] = v0[k];
            for (Eigen::Index i = 0; i < n; ++i) v[k] -= transfer(k, active[static_cast<std::size_t>(i)]) * h[i];
        }
        for (Eigen::Index i = 0; i < n; ++i) v[active[static_cast<std::size_t>(i)]] = va[i];
        if (!point.converged) break;
    }

    // Node volts, then the small-signal response to one ampere at the leads.
    const auto n = static_cast<Eigen::Index>(active.size());
    Eigen::VectorXd volts = unit * amps, response = unit;
    if (n > 0) {
        Eigen::MatrixXd columns(z.rows(), n), port = Eigen::MatrixXd::Identity(n, n);
        Eigen::VectorXd slope(n), drive(n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const auto k = active[static_cast<std::size_t>(i)];
            columns.col(i) = z.col(row(k, true)) - z.col(row(k, false));
            slope[i] = excess(junction(k), v[k]).slope;
            drive[i] = unit[row(k, true)] - unit[row(k, false)];
        }
        for (Eigen::Index i = 0; i < n; ++i)
            for (Eigen::Index k = 0; k < n; ++k)
                port(i, k) += (columns(row(active[static_cast<std::size_t>(i)], true), k) -
                               columns(row(active[static_cast<std::size_t>(i)], false), k)) *
                              slope[k];
        const Eigen::VectorXd dv = port.partialPivLu().solve(drive);
        volts -= columns * h;
        response -= columns * slope.cwiseProduct(dv);
    }
    point.volts = volts[f] - volts[t];
    const double scale = std::max(std::fabs(point.volts), 1e-12);
    double variance = 0;
    const auto across = [&](const Eigen::VectorXd& x, int a, int b) {
        return x[m_row[static_cast<std::size_t>(a)]] - x[m_row[static_cast<std::size_t>(b)]];
    };
    const auto add = [&](int a, int b, double siemens, double sigma) {
        const double s = siemens * across(volts, a, b) * across(response, a, b) * sigma / scale;
        variance += s * s;
    };
    for (int k : island.resistors) {
        const auto& r = m_net.resistors[static_cast<std::size_t>(k)];
        add(r.a, r.b, 1 / r.ohms, r.ln_sigma);
    }
    for (auto [c, w] : island.windings) {
        const auto& core = m_net.cores[static_cast<std::size_t>(c)];
        const auto& wind = core.windings[static_cast<std::size_t>(w)];
        if (wind.a != wind.b) add(wind.a, wind.b, 1 / std::max(wind.ohms, 1e-3), core.ln_sigma);
    }
    for (Eigen::Index k = 0; k < count; ++k) {
        const auto& j = junction(k);
        const double current = excess(j, v[k]).current + zero_bias(j) * v[k];
        const double s = current * across(response, j.anode, j.cathode) * j.ln_sigma / scale;
        variance += s * s;
        if (std::fabs(current) > 0.02 * std::fabs(amps)) point.conducting.push_back(j.part);
    }
    point.ln_sigma = std::sqrt(variance);
    std::sort(point.conducting.begin(), point.conducting.end());
    point.conducting.erase(std::unique(point.conducting.begin(), point.conducting.end()), point.conducting.end());
    for (int k : island.capacitors) {
        const auto& c = m_net.capacitors[static_cast<std::size_t>(k)];
        const double share = std::fabs(across(volts, c.a, c.b)) / scale;
        if (share < 0.3) continue;
        // Time to charge from the meter's current source to where the capacitor ends.
        point.slowest_seconds = std::max(point.slowest_seconds, c.farads * std::fabs(across(volts, c.a, c.b) / amps));
    }
    return point;
}

} // namespace ohmo
