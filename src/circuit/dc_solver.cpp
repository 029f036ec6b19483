// SPDX-License-Identifier: GPL-3.0-or-later
// Method: nodal conductances with every junction's zero-bias conductance stamped in; one Cholesky inverse per island; what the elements
// carry beyond that by Newton at their ports (circuit/ports). Added conductances (shorts) update the inverse by the rank-one formula of
// J. Sherman and W. J. Morrison (1950); opened elements never do, as the subtraction cancels: the board is factored anew.
// Sensitivities by the adjoint network (S. W. Director and R. A. Rohrer, 1969), transposed where transistors make it not reciprocal; parts
// with a wide spread by their exact effect at three points (Gauss-Hermite).
#include "circuit/dc_solver.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <numeric>

namespace ohmo {
namespace {

constexpr double kConnectOhms = 5e8; // what is more than this does not join two islands
constexpr double kLeastWindingOhms = 1e-3;
constexpr double kWideSigma = 0.3, kWorthMore = 0.01; // spreads this wide, if they matter, are not taken as straight lines
constexpr double kWorthTelling = 2e-3;                // of ln(volts), one part's effect
constexpr double kSiblingsShare = 0.5;  // of an element's deviation that the others of its part have too: legs of a bridge, pins of a chip
constexpr int kJunctionElements = 100;  // where the numbers of junctions begin, after the resistors
constexpr double kConductsShare = 0.02; // of the test current: what is worth telling

// By node: a node that stands for all that hang together with it.
std::vector<int> joined_nodes(const Netlist& net) {
    std::vector<int> parent(static_cast<std::size_t>(net.nodes));
    std::iota(parent.begin(), parent.end(), 0);
    const auto root = [&](int n) {
        while (parent[static_cast<std::size_t>(n)] != n)
            n = parent[static_cast<std::size_t>(n)] = parent[static_cast<std::size_t>(parent[static_cast<std::size_t>(n)])];
        return n;
    };
    const auto join = [&](int a, int b) { parent[static_cast<std::size_t>(root(a))] = root(b); };
    for (const auto& r : net.resistors)
        if (r.ohms < kConnectOhms) join(r.a, r.b);
    for (const auto& j : net.junctions) join(j.anode, j.cathode);
    for (const auto& q : net.bipolars) {
        join(q.b, q.e);
        join(q.b, q.c);
    }
    for (const auto& m : net.channels) join(m.d, m.s);
    for (const auto& core : net.cores)
        for (const auto& w : core.windings)
            if (w.ohms < kConnectOhms) join(w.a, w.b);
    // A gate that nothing but its oxide ties down still belongs to its source.
    for (const auto& m : net.channels) join(m.g, m.s);
    std::vector<int> out;
    for (int n = 0; n < net.nodes; ++n) out.push_back(root(n));
    return out;
}

} // namespace

DcSolver::DcSolver(Netlist netlist, DcOptions options)
    : m_options(std::move(options)), m_net(std::make_shared<const Netlist>(std::move(netlist))) {
    find_islands();
}

void DcSolver::find_islands() {
    const Netlist& net = *m_net;
    const auto root = joined_nodes(net);
    std::vector<std::shared_ptr<Island>> islands;
    m_island.assign(static_cast<std::size_t>(net.nodes), -1);
    m_row.assign(static_cast<std::size_t>(net.nodes), 0);
    std::vector<int> number(static_cast<std::size_t>(net.nodes), -1);
    for (int n = 0; n < net.nodes; ++n) {
        int& id = number[static_cast<std::size_t>(root[static_cast<std::size_t>(n)])];
        if (id < 0) {
            id = static_cast<int>(islands.size());
            islands.push_back(std::make_shared<Island>());
        }
        auto& island = *islands[static_cast<std::size_t>(id)];
        m_island[static_cast<std::size_t>(n)] = id;
        m_row[static_cast<std::size_t>(n)] = static_cast<int>(island.nodes.size());
        island.nodes.push_back(n);
    }
    const auto home = [&](int a, int b) -> Island* {
        return connected(a, b) ? islands[static_cast<std::size_t>(island(a))].get() : nullptr;
    };
    for (std::size_t k = 0; k < net.resistors.size(); ++k)
        if (auto* i = home(net.resistors[k].a, net.resistors[k].b)) i->resistors.push_back(static_cast<int>(k));
    for (std::size_t k = 0; k < net.junctions.size(); ++k)
        home(net.junctions[k].anode, net.junctions[k].cathode)->ports.add_junction(net, k);
    for (std::size_t k = 0; k < net.bipolars.size(); ++k) home(net.bipolars[k].b, net.bipolars[k].e)->ports.add_bipolar(net, k);
    for (std::size_t k = 0; k < net.channels.size(); ++k) home(net.channels[k].d, net.channels[k].s)->ports.add_channel(net, k);
    for (std::size_t k = 0; k < net.capacitors.size(); ++k)
        if (auto* i = home(net.capacitors[k].a, net.capacitors[k].b)) i->capacitors.push_back(static_cast<int>(k));
    for (std::size_t c = 0; c < net.cores.size(); ++c)
        for (std::size_t w = 0; w < net.cores[c].windings.size(); ++w)
            if (auto* i = home(net.cores[c].windings[w].a, net.cores[c].windings[w].b))
                i->windings.emplace_back(static_cast<int>(c), static_cast<int>(w));
    for (auto& island : islands) {
        std::map<int, int> elements, numbered;
        for (const auto& e : island->ports.elements) ++elements[e.part];
        for (const auto& e : island->ports.elements)
            island->siblings.push_back(elements[e.part] > 1 ? kJunctionElements + ++numbered[e.part] : 0);
        factor(*island);
        m_islands.push_back(std::move(island));
    }
}

void DcSolver::factor(Island& island) const {
    const auto size = static_cast<Eigen::Index>(island.nodes.size());
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(size, size);
    const auto stamp = [&](int a, int b, double siemens) {
        const int i = row(a), k = row(b);
        g(i, i) += siemens;
        g(k, k) += siemens;
        g(i, k) -= siemens;
        g(k, i) -= siemens;
    };
    for (int k : island.resistors) {
        const auto& r = m_net->resistors[static_cast<std::size_t>(k)];
        stamp(r.a, r.b, 1 / r.ohms);
    }
    for (auto [c, w] : island.windings) {
        const auto& wind = m_net->cores[static_cast<std::size_t>(c)].windings[static_cast<std::size_t>(w)];
        if (wind.a != wind.b) stamp(wind.a, wind.b, 1 / std::max(wind.ohms, kLeastWindingOhms));
    }
    for (const auto& p : island.ports.ports) stamp(p.plus, p.minus, p.siemens);
    island.inverse = Eigen::MatrixXd::Zero(size, size);
    if (size > 1) {
        const Eigen::Index m = size - 1;
        island.inverse.topLeftCorner(m, m) = g.topLeftCorner(m, m).llt().solve(Eigen::MatrixXd::Identity(m, m));
    }
    set_ports(island);
}

void DcSolver::set_ports(Island& island) const {
    const auto& ports = island.ports.ports;
    const auto count = static_cast<Eigen::Index>(ports.size());
    island.port_columns.resize(island.inverse.rows(), count);
    for (Eigen::Index k = 0; k < count; ++k) {
        const auto& p = ports[static_cast<std::size_t>(k)];
        island.port_columns.col(k) = island.inverse.col(row(p.plus)) - island.inverse.col(row(p.minus));
    }
    island.port_inverse.resize(count, count);
    for (Eigen::Index k = 0; k < count; ++k) {
        const auto& p = ports[static_cast<std::size_t>(k)];
        island.port_inverse.row(k) = island.port_columns.row(row(p.plus)) - island.port_columns.row(row(p.minus));
    }
}

std::optional<DcSolver> DcSolver::with_added(std::span<const Resistive> resistors) const {
    for (const auto& r : resistors)
        if (r.a >= m_net->nodes || r.b >= m_net->nodes || !connected(r.a, r.b)) return std::nullopt;
    DcSolver out(m_options);
    auto net = std::make_shared<Netlist>(*m_net);
    out.m_island = m_island;
    out.m_row = m_row;
    out.m_islands = m_islands;
    std::vector<std::shared_ptr<Island>> fresh(m_islands.size());
    for (const auto& r : resistors) {
        const auto id = static_cast<std::size_t>(island(r.a));
        if (!fresh[id]) fresh[id] = std::make_shared<Island>(*m_islands[id]);
        Island& i = *fresh[id];
        i.resistors.push_back(static_cast<int>(net->resistors.size()));
        net->resistors.push_back(r);
        const Eigen::VectorXd column = i.inverse.col(row(r.a)) - i.inverse.col(row(r.b));
        const double across = column[row(r.a)] - column[row(r.b)];
        i.inverse.noalias() -= column * (column.transpose() / (r.ohms + across));
    }
    out.m_net = std::move(net);
    for (std::size_t id = 0; id < fresh.size(); ++id)
        if (fresh[id]) {
            out.set_ports(*fresh[id]);
            out.m_islands[id] = std::move(fresh[id]);
        }
    return out;
}

DcPoint DcSolver::solve(int from, int to, double amps, DcDetail detail, Eigen::VectorXd* port_volts) const {
    const Island& island = of(from);
    const auto& z = island.inverse;
    const int f = row(from), t = row(to);
    const Eigen::VectorXd drive = (island.port_columns.row(f) - island.port_columns.row(t)).transpose();
    const Eigen::VectorXd v0 = amps * drive;
    const PortOptions options{std::fabs(amps) * m_options.threshold, m_options.relative, m_options.iterations, std::fabs(amps),
                              m_options.cancel};
    const bool warm = port_volts != nullptr && port_volts->size() == v0.size();
    PortSolution ports = solve_ports(*m_net, island.ports, v0, island.port_inverse, options, warm ? port_volts : nullptr);
    if (warm && !ports.converged && !m_options.cancel.cancelled())
        ports = solve_ports(*m_net, island.ports, v0, island.port_inverse, options);
    if (port_volts != nullptr) *port_volts = ports.volts;
    DcPoint point;
    point.converged = ports.converged;
    if (!ports.converged && ports.worst >= 0) point.failed_part = island.ports.elements[static_cast<std::size_t>(ports.worst)].part;
    point.volts = amps * (z(f, f) + z(t, t) - z(f, t) - z(t, f)) - drive.dot(ports.amps);
    if (detail == DcDetail::Full) add_spread(point, island, ports, from, to, amps);
    return point;
}

// What the spreads of the parts make of a point: the adjoint network of its small-signal state.
class DcSolver::Spread {
public:
    Spread(const DcSolver& solver, const Island& island, const PortSolution& ports, DcPoint& point, int from, int to, double amps)
        : m_solver(solver), m_net(*solver.m_net), m_island(island), m_ports(ports), m_point(point), m_amps(amps),
          m_scale(std::max(std::fabs(point.volts), 1e-12)) {
        const auto& z = island.inverse;
        m_unit = z.col(row(from)) - z.col(row(to));
        m_volts = m_unit * amps;
        m_adjoint = m_unit;
        for (Eigen::Index k = 0; k < ports.amps.size(); ++k)
            if (ports.amps[k] != 0) m_volts -= island.port_columns.col(k) * ports.amps[k];
        for (int number : ports.active) m_conducting += island.ports.elements[static_cast<std::size_t>(number)].count;
        if (m_conducting > 0) bend_adjoint();
    }

    void add() {
        resistors();
        windings();
        elements();
        m_point.ln_sigma = std::sqrt(m_variance);
        for (const auto& [of, deviation] : m_by_part) m_point.by_part.push_back(deviation);
        auto& conducting = m_point.conducting;
        std::sort(conducting.begin(), conducting.end());
        conducting.erase(std::unique(conducting.begin(), conducting.end()), conducting.end());
        settling();
    }

private:
    Eigen::Index row(int node) const { return m_solver.row(node); }
    double across(const Eigen::VectorXd& x, int a, int b) const { return x[row(a)] - x[row(b)]; }

    // The conducting ports answer with their slopes: transposed in the adjoint network.
    void bend_adjoint() {
        const Eigen::Index n = m_conducting;
        m_columns.resize(m_island.inverse.rows(), n);
        Eigen::MatrixXd zz(n, n), slope = Eigen::MatrixXd::Zero(n, n);
        Eigen::VectorXd drive(n);
        std::vector<Eigen::Index> rows;
        for (int number : m_ports.active) {
            const auto& e = m_island.ports.elements[static_cast<std::size_t>(number)];
            const auto law = port_law(m_net, m_island.ports, e, m_ports.volts.data() + e.first);
            const auto at = static_cast<Eigen::Index>(rows.size());
            for (int i = 0; i < e.count; ++i) {
                const Eigen::Index p = e.first + i;
                const Port& port = m_island.ports.ports[static_cast<std::size_t>(p)];
                rows.push_back(p);
                m_columns.col(at + i) = m_island.port_columns.col(p);
                drive[at + i] = across(m_unit, port.plus, port.minus);
                for (int k = 0; k < e.count; ++k)
                    slope(at + i, at + k) = law.slope[static_cast<std::size_t>(i)][static_cast<std::size_t>(k)];
            }
        }
        for (Eigen::Index i = 0; i < n; ++i) {
            const Port& port = m_island.ports.ports[static_cast<std::size_t>(rows[static_cast<std::size_t>(i)])];
            for (Eigen::Index k = 0; k < n; ++k)
                zz(i, k) = port.share * m_island.port_inverse(rows[static_cast<std::size_t>(i)], rows[static_cast<std::size_t>(k)]);
            zz(i, i) += port.ohms;
        }
        const Eigen::MatrixXd transposed = slope.transpose();
        const Eigen::MatrixXd system = Eigen::MatrixXd::Identity(n, n) + zz * transposed;
        m_kernel = transposed * system.partialPivLu().inverse();
        m_adjoint -= m_columns * (m_kernel * drive);
    }

    // One element's effect on ln(volts); `sibling`: its number among those of its part, 0 when it is the only one.
    void count(int part, double s, double sigma, int sibling) {
        static const double own = std::sqrt(1 - kSiblingsShare * kSiblingsShare);
        m_variance += s * s;
        if (std::fabs(s) <= kWorthTelling) return;
        const auto share = [&](int element, double of) {
            Deviation& d = m_by_part.try_emplace({part, element}, Deviation{part, element, 0}).first->second;
            d.change += s * of;
            d.sigma = std::max(d.sigma, sigma * of);
        };
        share(0, sibling == 0 ? 1 : kSiblingsShare);
        if (sibling != 0) share(sibling, own);
    }

    void resistors() {
        std::vector<int> of_part, numbered; // by part: how many; how many so far
        for (int k : m_island.resistors) {
            const auto part = static_cast<std::size_t>(m_net.resistors[static_cast<std::size_t>(k)].part + 1);
            if (of_part.size() <= part) of_part.resize(part + 1, 0);
            ++of_part[part];
        }
        numbered.resize(of_part.size(), 0);
        for (int k : m_island.resistors) {
            const auto& r = m_net.resistors[static_cast<std::size_t>(k)];
            const auto part = static_cast<std::size_t>(r.part + 1);
            const int sibling = of_part[part] > 1 ? ++numbered[part] : 0;
            const double siemens = 1 / r.ohms;
            const double slope = siemens * across(m_volts, r.a, r.b) * across(m_adjoint, r.a, r.b);
            if (r.ln_sigma < kWideSigma || std::fabs(slope) * r.ln_sigma < kWorthMore * m_scale)
                count(r.part, slope * r.ln_sigma / m_scale, r.ln_sigma, sibling);
            else
                count(r.part, bent(r, slope), r.ln_sigma, sibling);
        }
    }

    // Wide spreads bend: the exact change of the small-signal network at the nodes of a three-point Gauss-Hermite rule.
    double bent(const Resistive& r, double slope) const {
        const auto& z = m_island.inverse;
        const double siemens = 1 / r.ohms;
        double seen = z(row(r.a), row(r.a)) + z(row(r.b), row(r.b)) - 2 * z(row(r.a), row(r.b));
        if (m_conducting > 0) {
            const Eigen::VectorXd transfer = (m_columns.row(row(r.a)) - m_columns.row(row(r.b))).transpose();
            seen -= transfer.dot(m_kernel * transfer);
        }
        const auto moved = [&](double deviations) {
            const double more = siemens * (std::exp(-deviations * r.ln_sigma) - 1);
            const double change = -more / siemens * slope / (1 + more * seen);
            return std::log(std::max(std::fabs(m_point.volts + change), 1e-3 * m_scale) / m_scale);
        };
        const double up = moved(std::sqrt(3.0)), down = moved(-std::sqrt(3.0));
        return std::copysign(std::sqrt((up * up + down * down) / 6 - std::pow((up + down) / 6, 2)), up - down);
    }

    void windings() {
        for (auto [c, w] : m_island.windings) {
            const auto& core = m_net.cores[static_cast<std::size_t>(c)];
            const auto& wind = core.windings[static_cast<std::size_t>(w)];
            if (wind.a == wind.b) continue;
            const double siemens = 1 / std::max(wind.ohms, kLeastWindingOhms);
            count(core.part, siemens * across(m_volts, wind.a, wind.b) * across(m_adjoint, wind.a, wind.b) * core.ln_sigma / m_scale,
                  core.ln_sigma, 0);
        }
    }

    // All of an element's currents scale with its parameter together.
    void elements() {
        for (const auto& e : m_island.ports.elements) {
            const double ln_sigma = e.law == PortElement::Law::Junction  ? m_net.junctions[e.index].ln_sigma
                                    : e.law == PortElement::Law::Bipolar ? m_net.bipolars[e.index].ln_sigma
                                                                         : m_net.channels[e.index].ln_sigma;
            double share = 0, most = 0;
            for (int i = 0; i < e.count; ++i) {
                const auto& p = m_island.ports.ports[static_cast<std::size_t>(e.first + i)];
                const double stamped = (p.siemens - kJunctionLeak) * m_ports.volts[e.first + i];
                const double current = m_ports.amps[e.first + i] + stamped;
                share += current * across(m_adjoint, p.plus, p.minus);
                most = std::max(most, std::fabs(current));
            }
            const auto number = static_cast<std::size_t>(&e - m_island.ports.elements.data());
            count(e.part, -share * ln_sigma / m_scale, 0, m_island.siblings[number]);
            if (most > kConductsShare * std::fabs(m_amps)) m_point.conducting.push_back(e.part);
        }
    }

    // Time to charge from the meter's current source to where each capacitor ends.
    void settling() {
        for (int k : m_island.capacitors) {
            const auto& c = m_net.capacitors[static_cast<std::size_t>(k)];
            const double volts_on = std::fabs(across(m_volts, c.a, c.b));
            if (volts_on < 0.3 * m_scale) continue;
            m_point.slowest_seconds = std::max(m_point.slowest_seconds, c.farads * volts_on / std::fabs(m_amps));
        }
    }

    const DcSolver& m_solver;
    const Netlist& m_net;
    const Island& m_island;
    const PortSolution& m_ports;
    DcPoint& m_point;
    double m_amps, m_scale;
    Eigen::VectorXd m_unit, m_volts, m_adjoint; // node volts for one ampere; as they are; the adjoint response to one ampere at the leads
    Eigen::Index m_conducting = 0;
    Eigen::MatrixXd m_columns, m_kernel; // of the conducting ports: node volts per ampere, amperes their slopes answer a port's volts with
    double m_variance = 0;
    std::map<std::pair<int, int>, Deviation> m_by_part;
};

void DcSolver::add_spread(DcPoint& point, const Island& island, const PortSolution& ports, int from, int to, double amps) const {
    Spread(*this, island, ports, point, from, to, amps).add();
}

} // namespace ohmo
