// SPDX-License-Identifier: GPL-3.0-or-later
// Method: TR-BDF2 (R. E. Bank et al., 1985; coefficients and error estimate as in M. E. Hosea and L. F. Shampine, 1996): a trapezoid over
// 2 - sqrt 2 of the step, then the second-order backward formula over all of it, which damps what the trapezoid lets ring. Both stages
// share one matrix, kept per step length; step lengths are powers of two times the first. After a start or a change two short backward
// Euler stages find the currents. Elements are conductances with a source in series; coupled windings enter as the inverse of R + rate L;
// elements that conduct by Newton at their ports (circuit/ports). Fails when a step at the shortest length does not settle.
#include "circuit/transient.h"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

namespace ohmo {
namespace {

const double kGamma = 2 - std::numbers::sqrt2;
const double kMiddleWeight = 1 / (kGamma * (1 - kGamma)), kStartWeight = (1 - kGamma) / kGamma;
const double kErrorWeight = (-3 * kGamma * kGamma + 4 * kGamma - 2) / (12 * (2 - kGamma));
constexpr double kLeastEsr = 1e-6, kLeastWindingOhms = 1e-3;
constexpr int kMostLevels = 40; // matrices kept; more only when parts heat up at every step

double esr(const Capacitive& c) { return std::max(c.esr, kLeastEsr); }

Eigen::MatrixXd inductances(const WindingSet& core) {
    const auto count = static_cast<Eigen::Index>(core.windings.size());
    Eigen::MatrixXd l(count, count);
    for (Eigen::Index i = 0; i < count; ++i)
        for (Eigen::Index k = 0; k < count; ++k) {
            const auto &a = core.windings[static_cast<std::size_t>(i)], &b = core.windings[static_cast<std::size_t>(k)];
            l(i, k) = i == k ? a.henry : core.coupling * std::sqrt(a.henry * b.henry);
        }
    return l;
}

} // namespace

double Source::volts(double seconds) const {
    return dc + (amplitude != 0 ? amplitude * std::sin(2 * std::numbers::pi * hertz * seconds + phase) : 0.0);
}

Transient::Transient(Netlist net, std::vector<Source> sources, TransientOptions options, TransientState state, double now)
    : m_net(std::move(net)), m_sources(std::move(sources)), m_options(std::move(options)), m_now(now), m_step(m_options.first_step),
      m_euler_left(2), m_state(std::move(state)) {
    m_state.capacitor_volts.resize(m_net.capacitors.size(), 0.0);
    m_state.winding_amps.resize(m_net.cores.size());
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) m_state.winding_amps[c].resize(m_net.cores[c].windings.size(), 0.0);
    m_ports.stamp = Stamp::LeakOnly;
    for (std::size_t k = 0; k < m_net.junctions.size(); ++k) m_ports.add_junction(m_net, k);
    for (std::size_t k = 0; k < m_net.bipolars.size(); ++k) m_ports.add_bipolar(m_net, k);
    for (std::size_t k = 0; k < m_net.channels.size(); ++k) m_ports.add_channel(m_net, k);
    for (const auto& core : m_net.cores) {
        m_inductances.push_back(inductances(core));
        m_core_inverse.push_back(m_inductances.back().inverse());
    }
    find_nodes();
    m_capacitor_amps.assign(m_net.capacitors.size(), 0.0);
    m_winding_volts.resize(m_net.cores.size());
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) m_winding_volts[c].assign(m_net.cores[c].windings.size(), 0.0);
    m_volts = Eigen::VectorXd::Zero(m_unknowns);
    m_port_volts = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(m_ports.size()));
    m_port_amps = m_port_volts;
}

void Transient::find_nodes() {
    std::vector<int> parent(static_cast<std::size_t>(m_net.nodes));
    std::iota(parent.begin(), parent.end(), 0);
    const auto root = [&](int n) {
        while (parent[static_cast<std::size_t>(n)] != n) n = parent[static_cast<std::size_t>(n)];
        return n;
    };
    const auto join = [&](int a, int b) { parent[static_cast<std::size_t>(root(a))] = root(b); };
    for (const auto& r : m_net.resistors) join(r.a, r.b);
    for (const auto& p : m_ports.ports) join(p.plus, p.minus);
    for (const auto& c : m_net.capacitors) join(c.a, c.b);
    for (const auto& core : m_net.cores)
        for (const auto& w : core.windings) join(w.a, w.b);
    for (const auto& s : m_sources) join(s.plus, s.minus);
    m_row.assign(static_cast<std::size_t>(m_net.nodes), 0);
    std::vector<char> held(static_cast<std::size_t>(m_net.nodes), 0);
    // The negative end of the first source is where a person would put ground.
    if (!m_sources.empty()) {
        held[static_cast<std::size_t>(root(m_sources.front().minus))] = 1;
        m_row[static_cast<std::size_t>(m_sources.front().minus)] = -1;
    }
    for (int n = 0; n < m_net.nodes; ++n) {
        if (m_row[static_cast<std::size_t>(n)] < 0) continue;
        char& done = held[static_cast<std::size_t>(root(n))];
        m_row[static_cast<std::size_t>(n)] = done ? m_unknowns++ : -1;
        done = 1;
    }
}

double Transient::volts(int node) const {
    const int row = m_row[static_cast<std::size_t>(node)];
    return row < 0 ? 0.0 : m_volts[row];
}

double Transient::resistor_amps(std::size_t k) const {
    const auto& r = m_net.resistors[k];
    return volts(r.a, r.b) / r.ohms;
}

double Transient::junction_amps(std::size_t k) const {
    const auto& e = m_ports.elements[k]; // junctions come first
    return through_amps(m_net, m_ports, e, m_port_volts.data() + e.first);
}

double Transient::source_amps(std::size_t k) const {
    const auto& s = m_sources[k];
    return (s.volts(m_now) - volts(s.plus, s.minus)) / s.ohms;
}

void Transient::set_ohms(std::size_t resistor, double ohms) {
    m_net.resistors[resistor].ohms = ohms;
    m_levels.clear();
}

// A numerical kernel in one piece: every element is stamped once, in the order in which its rows are laid out.
const Transient::Level& Transient::level(double rate) {
    const auto found = m_levels.find(rate);
    if (found != m_levels.end()) return found->second;
    if (m_levels.size() >= kMostLevels) m_levels.clear();
    Level out;
    const Eigen::Index n = m_unknowns;
    Eigen::MatrixXd g = Eigen::MatrixXd::Zero(n, n);
    const auto stamp = [&](int a, int b, int c, int d, double siemens) { // current a -> b per volt c over d
        const int i = m_row[static_cast<std::size_t>(a)], k = m_row[static_cast<std::size_t>(b)], p = m_row[static_cast<std::size_t>(c)],
                  q = m_row[static_cast<std::size_t>(d)];
        if (i >= 0 && p >= 0) g(i, p) += siemens;
        if (k >= 0 && q >= 0) g(k, q) += siemens;
        if (i >= 0 && q >= 0) g(i, q) -= siemens;
        if (k >= 0 && p >= 0) g(k, p) -= siemens;
    };
    for (const auto& r : m_net.resistors) stamp(r.a, r.b, r.a, r.b, 1 / r.ohms);
    for (const auto& p : m_ports.ports) stamp(p.plus, p.minus, p.plus, p.minus, p.siemens);
    for (const auto& s : m_sources) stamp(s.plus, s.minus, s.plus, s.minus, 1 / s.ohms);
    for (const auto& c : m_net.capacitors) stamp(c.a, c.b, c.a, c.b, 1 / (esr(c) + 1 / (rate * c.farads)));
    for (const auto& core : m_net.cores) {
        const auto count = static_cast<Eigen::Index>(core.windings.size());
        Eigen::MatrixXd z = rate * inductances(core);
        for (Eigen::Index i = 0; i < count; ++i) z(i, i) += std::max(core.windings[static_cast<std::size_t>(i)].ohms, kLeastWindingOhms);
        const Eigen::MatrixXd y = z.llt().solve(Eigen::MatrixXd::Identity(count, count));
        for (Eigen::Index i = 0; i < count; ++i)
            for (Eigen::Index k = 0; k < count; ++k) {
                const auto &a = core.windings[static_cast<std::size_t>(i)], &b = core.windings[static_cast<std::size_t>(k)];
                stamp(a.a, a.b, b.a, b.b, y(i, k));
            }
        out.core_siemens.push_back(y);
    }
    out.inverse = g.llt().solve(Eigen::MatrixXd::Identity(n, n));
    const auto ports = static_cast<Eigen::Index>(m_ports.size());
    out.port_columns = Eigen::MatrixXd::Zero(n, ports);
    for (Eigen::Index k = 0; k < ports; ++k) {
        const auto& p = m_ports.ports[static_cast<std::size_t>(k)];
        const int i = m_row[static_cast<std::size_t>(p.plus)], j = m_row[static_cast<std::size_t>(p.minus)];
        if (i >= 0) out.port_columns.col(k) += out.inverse.col(i);
        if (j >= 0) out.port_columns.col(k) -= out.inverse.col(j);
    }
    out.port_inverse = Eigen::MatrixXd::Zero(ports, ports);
    for (Eigen::Index k = 0; k < ports; ++k) {
        const auto& p = m_ports.ports[static_cast<std::size_t>(k)];
        const int i = m_row[static_cast<std::size_t>(p.plus)], j = m_row[static_cast<std::size_t>(p.minus)];
        if (i >= 0) out.port_inverse.row(k) += out.port_columns.row(i);
        if (j >= 0) out.port_inverse.row(k) -= out.port_columns.row(j);
    }
    // A store that settles within the step makes no error worth a shorter one: (1 - gamma h / 2 J)^-1 of the estimate, store by store.
    const auto seen = [&](int a, int b) {
        const int i = m_row[static_cast<std::size_t>(a)], k = m_row[static_cast<std::size_t>(b)];
        double ohms = 0;
        if (i >= 0) ohms += out.inverse(i, i);
        if (k >= 0) ohms += out.inverse(k, k);
        if (i >= 0 && k >= 0) ohms -= 2 * out.inverse(i, k);
        return ohms;
    };
    for (const auto& c : m_net.capacitors) {
        const double own = 1 / (esr(c) + 1 / (rate * c.farads)), share = own * seen(c.a, c.b);
        out.capacitor_share.push_back(share - esr(c) * own * (share - 1));
    }
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) {
        const auto& core = m_net.cores[c];
        if (core.windings.size() != 1) {
            out.core_share.push_back(1);
            continue;
        }
        const auto& w = core.windings.front();
        const double y = out.core_siemens[c](0, 0);
        out.core_share.push_back(rate * w.henry * y * (1 - y * seen(w.a, w.b)));
    }
    return m_levels.emplace(rate, std::move(out)).first->second;
}

// A numerical kernel in one piece: what is gathered element by element is used by all that follows. Solves one stage. The stores' history
// becomes a voltage in series with each; the answer goes to the m_next members.
bool Transient::solve(Stage stage, double rate, double at) {
    const Level& lev = level(rate);
    const double h = 2 / (kGamma * rate); // length of the whole step; for Euler the stage itself is 1 / rate
    Eigen::VectorXd rhs = Eigen::VectorXd::Zero(m_unknowns);
    const auto inject = [&](int a, int b, double amps) { // out of the source's plus end a
        const int i = m_row[static_cast<std::size_t>(a)], k = m_row[static_cast<std::size_t>(b)];
        if (i >= 0) rhs[i] += amps;
        if (k >= 0) rhs[k] -= amps;
    };
    std::vector<double> capacitor_source(m_net.capacitors.size());
    for (std::size_t k = 0; k < m_net.capacitors.size(); ++k) {
        const auto& c = m_net.capacitors[k];
        double e = m_state.capacitor_volts[k];
        if (stage == Stage::Trapezoid)
            e += m_capacitor_amps[k] / (rate * c.farads);
        else if (stage == Stage::Backward2)
            e = (kMiddleWeight * m_middle.capacitor_volts[k] - kStartWeight * m_state.capacitor_volts[k]) / (rate * h);
        capacitor_source[k] = e;
        inject(c.a, c.b, e / (esr(c) + 1 / (rate * c.farads)));
    }
    std::vector<Eigen::VectorXd> core_source;
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) {
        const auto& core = m_net.cores[c];
        const auto count = static_cast<Eigen::Index>(core.windings.size());
        Eigen::VectorXd flux(count), source(count);
        for (Eigen::Index k = 0; k < count; ++k) {
            const auto w = static_cast<std::size_t>(k);
            flux[k] = stage == Stage::Backward2
                          ? (kMiddleWeight * m_middle.winding_amps[c][w] - kStartWeight * m_state.winding_amps[c][w]) / h
                          : rate * m_state.winding_amps[c][w];
        }
        source = m_inductances[c] * flux;
        if (stage == Stage::Trapezoid)
            for (Eigen::Index i = 0; i < count; ++i) source[i] += m_winding_volts[c][static_cast<std::size_t>(i)];
        const Eigen::VectorXd amps = lev.core_siemens[c] * source; // these flow a -> b whatever the node volts
        for (Eigen::Index k = 0; k < count; ++k) {
            const auto& w = core.windings[static_cast<std::size_t>(k)];
            inject(w.a, w.b, -amps[k]);
        }
        core_source.push_back(std::move(source));
    }
    for (const auto& s : m_sources) inject(s.plus, s.minus, s.volts(at) / s.ohms);
    m_next_volts = lev.inverse * rhs;
    if (!m_next_volts.allFinite()) return false;

    const auto across = [&](int a, int b) {
        const int i = m_row[static_cast<std::size_t>(a)], k = m_row[static_cast<std::size_t>(b)];
        return (i >= 0 ? m_next_volts[i] : 0.0) - (k >= 0 ? m_next_volts[k] : 0.0);
    };
    if (m_ports.size() > 0) {
        Eigen::VectorXd v0(static_cast<Eigen::Index>(m_ports.size()));
        for (std::size_t k = 0; k < m_ports.size(); ++k)
            v0[static_cast<Eigen::Index>(k)] = across(m_ports.ports[k].plus, m_ports.ports[k].minus);
        PortOptions options{m_options.threshold};
        options.relative = m_options.newton;
        auto solution = solve_ports(m_net, m_ports, v0, lev.port_inverse, options, &m_port_volts);
        if (!solution.converged) solution = solve_ports(m_net, m_ports, v0, lev.port_inverse, options, nullptr);
        if (!solution.converged) {
            m_failed_part = solution.worst >= 0 ? m_ports.elements[static_cast<std::size_t>(solution.worst)].part : -1;
            return false;
        }
        m_next_volts -= lev.port_columns * solution.amps;
        m_next_port_volts = std::move(solution.volts);
        m_next_port_amps = std::move(solution.amps);
    }
    m_next.capacitor_volts.resize(m_net.capacitors.size());
    m_next_amps.resize(m_net.capacitors.size());
    for (std::size_t k = 0; k < m_net.capacitors.size(); ++k) {
        const auto& c = m_net.capacitors[k];
        m_next_amps[k] = (across(c.a, c.b) - capacitor_source[k]) / (esr(c) + 1 / (rate * c.farads));
        m_next.capacitor_volts[k] = across(c.a, c.b) - esr(c) * m_next_amps[k];
    }
    m_next.winding_amps.resize(m_net.cores.size());
    m_next_winding_volts.resize(m_net.cores.size());
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) {
        const auto& core = m_net.cores[c];
        const auto count = core.windings.size();
        Eigen::VectorXd v(static_cast<Eigen::Index>(count));
        for (std::size_t w = 0; w < count; ++w) v[static_cast<Eigen::Index>(w)] = across(core.windings[w].a, core.windings[w].b);
        const Eigen::VectorXd amps = lev.core_siemens[c] * (v + core_source[c]);
        m_next.winding_amps[c].assign(amps.data(), amps.data() + amps.size());
        m_next_winding_volts[c].resize(count);
        for (std::size_t w = 0; w < count; ++w)
            m_next_winding_volts[c][w] =
                v[static_cast<Eigen::Index>(w)] - std::max(core.windings[w].ohms, kLeastWindingOhms) * amps[static_cast<Eigen::Index>(w)];
    }
    return true;
}

void Transient::commit() {
    m_state = m_next;
    m_volts = m_next_volts;
    m_port_volts = m_next_port_volts.size() > 0 ? m_next_port_volts : m_port_volts;
    m_port_amps = m_next_port_amps.size() > 0 ? m_next_port_amps : m_port_amps;
    m_capacitor_amps = m_next_amps;
    m_winding_volts = m_next_winding_volts;
}

// Largest local error of the step just solved against what is allowed. 1: just accepted.
double Transient::error(const Level& lev) const {
    double worst = 0;
    const auto judge = [&](double start, double middle, double end, double share, double scale, double absolute) {
        const double e = share * 2 * kErrorWeight * (start / kGamma - middle / (kGamma * (1 - kGamma)) + end / (1 - kGamma));
        worst = std::max(worst, std::fabs(e) / (m_options.relative * scale + absolute));
    };
    for (std::size_t k = 0; k < m_net.capacitors.size(); ++k) {
        const double farads = m_net.capacitors[k].farads;
        judge(m_capacitor_amps[k] / farads, m_middle_amps[k] / farads, m_next_amps[k] / farads, lev.capacitor_share[k],
              std::max(std::fabs(m_state.capacitor_volts[k]), std::fabs(m_next.capacitor_volts[k])) / m_step, m_options.volts / m_step);
    }
    for (std::size_t c = 0; c < m_net.cores.size(); ++c) {
        const auto count = static_cast<Eigen::Index>(m_net.cores[c].windings.size());
        const auto slopes = [&](const std::vector<double>& volts) {
            return Eigen::VectorXd(m_core_inverse[c] * Eigen::Map<const Eigen::VectorXd>(volts.data(), count));
        };
        const auto start = slopes(m_winding_volts[c]), middle = slopes(m_middle_winding_volts[c]), end = slopes(m_next_winding_volts[c]);
        for (Eigen::Index i = 0; i < count; ++i) {
            const auto w = static_cast<std::size_t>(i);
            judge(start[i], middle[i], end[i], lev.core_share[c],
                  std::max(std::fabs(m_state.winding_amps[c][w]), std::fabs(m_next.winding_amps[c][w])) / m_step, m_options.amps / m_step);
        }
    }
    return worst;
}

Result<double> Transient::step(double until) {
    const auto failed = [&] {
        return Problem{ProblemKind::SolveFailed,
                       m_failed_part >= 0 ? std::to_string(m_failed_part) : std::string(),
                       std::to_string(m_now) + " s",
                       "transient",
                       0,
                       false};
    };
    for (double stop : m_options.stops)
        if (stop > m_now * (1 + 1e-12) + 1e-15 && stop < until) until = stop;
    while (true) {
        const bool last = m_step >= (until - m_now) * (1 - 1e-9);
        const double planned = m_step;
        if (last) m_step = until - m_now;
        const double rate = 2 / (kGamma * m_step);
        if (m_euler_left > 0) { // both with the matrix of the step to come
            const double length = std::min(1 / rate, until - m_now);
            const double own_rate = 1 / length;
            if (!solve(Stage::Euler, own_rate, m_now + length)) {
                m_step /= 2;
                if (m_step < m_options.shortest_step) return failed();
                continue;
            }
            commit();
            m_now += length;
            --m_euler_left;
            m_step = planned;
            return m_now;
        }
        const auto port_volts = m_port_volts;
        bool good = solve(Stage::Trapezoid, rate, m_now + kGamma * m_step);
        double wrong = 0;
        if (good) {
            m_middle = m_next;
            m_middle_amps = m_next_amps;
            m_middle_winding_volts = m_next_winding_volts;
            if (m_next_port_volts.size() > 0) m_port_volts = m_next_port_volts; // a better guess for the end of the step
            good = solve(Stage::Backward2, rate, m_now + m_step);
            m_port_volts = port_volts;
            if (good) wrong = error(level(rate));
        }
        const bool shortest = m_step <= 2 * m_options.shortest_step;
        if (!good && shortest) return failed();
        if (!good || (wrong > 1 && !shortest)) {
            m_step = planned;
            while (m_step >= until - m_now) m_step /= 2; // back onto the ladder of steps
            m_step /= 2;
            continue;
        }
        m_now = last ? until : m_now + m_step;
        commit();
        m_step = planned;
        if (wrong < 0.12 && !last) m_step = std::min(2 * m_step, m_options.longest_step);
        return m_now;
    }
}

} // namespace ohmo
