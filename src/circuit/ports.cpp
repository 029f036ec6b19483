// SPDX-License-Identifier: GPL-3.0-or-later
// Method: Newton on v = v0 - Z h(v) over an active set that grows until no inactive element carries more than the threshold; elements that
// carry more but hardly bend (blocked rectifiers that leak) are current sources, settled by repetition around the Newton iteration;
// junction voltage limiting as in L. W. Nagel, SPICE2, UCB/ERL M520 (1975); when the plain iteration fails, again with short steps, then
// with the drive v0 raised in steps (source stepping), each started from the one before. Bipolars are the transport form of J. J. Ebers and
// J. L. Moll (1954), channels the square law of H. Shichman and D. A. Hodges (1968) without channel-length modulation. Fails (converged
// false) when an element still moves after all of that; `worst` names it.
#include "circuit/ports.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kBreakdownAmps = 1e-3;
constexpr double kMostExponent = 70;
constexpr double kSourceDecades = 6, kSourceSteps = 40, kLeastSourceStep = 1e-4;
constexpr double kWeakGain = 0.02; // slope times own resistance below which an element is a current source to the others
constexpr int kWeakRounds = 12;    // after these, everything that carries joins the Newton set

struct Exponential {
    double amps, slope;
};

// exp(x), straight on beyond kMostExponent: a clip would leave false solutions there.
Exponential bounded_exp(double x) {
    if (x <= kMostExponent) {
        const double e = std::exp(x);
        return {e, e};
    }
    static const double e = std::exp(kMostExponent);
    return {e * (1 + x - kMostExponent), e};
}

Exponential diode(double is, double vt, double v) {
    const auto e = bounded_exp(v / vt);
    return {is * (e.amps - 1.0), is / vt * e.slope};
}

void add_breakdown(Exponential& law, double bv, double vt, double v) {
    if (bv <= 0 || v > -bv + 60 * vt) return;
    const auto b = bounded_exp((-v - bv) / vt);
    law.amps -= kBreakdownAmps * b.amps;
    law.slope += kBreakdownAmps / vt * b.slope;
}

// Keeps a Newton step from running up an exponential: the forward one of `is` and `vt`, and the breakdown.
double limited(double is, double vt, double bv, double bvt, double wanted, double old) {
    const double critical = vt * std::log(vt / (std::sqrt(2.0) * is));
    if (wanted > critical && std::fabs(wanted - old) > 2 * vt) {
        if (old <= 0) return vt * std::log(std::max(wanted / vt, 1.0));
        const double arg = 1 + (wanted - old) / vt;
        return arg > 0 ? old + vt * std::log(arg) : critical;
    }
    if (bv > 0 && wanted < -bv && old - wanted > 3 * bvt) return std::max(wanted, std::min(old, -bv + 12 * bvt) - 3 * bvt);
    return wanted;
}

double limited(const Netlist& net, const PortElement& e, int port, double wanted, double old) {
    switch (e.law) {
    case PortElement::Law::Junction: {
        const auto& j = net.junctions[e.index];
        return limited(j.is, j.n * kThermalVolts, j.bv, j.breakdown_n * kThermalVolts, wanted, old);
    }
    case PortElement::Law::Bipolar: {
        const auto& q = net.bipolars[e.index];
        return limited(q.is, kThermalVolts, port == 0 ? q.be_bv : 0, kThermalVolts, wanted, old);
    }
    case PortElement::Law::Channel:
        if (port == 0) return wanted;
        // The gate decides the channel: no leaps across the threshold; a floating one, pushed by a test current, goes far beyond it.
        return std::clamp(wanted, old - std::max(2.0, 0.5 * std::fabs(old)), old + std::max(2.0, 0.5 * std::fabs(old)));
    }
    return wanted;
}

// A junction carries at most about the test current: from just above its volts Newton falls onto the answer.
double forward_start(double is, double vt, double drive) { return drive > 0 ? vt * std::log1p(drive / is) : 0.3; }

double start_value(const Netlist& net, const PortElement& e, int port, double v, double drive) {
    switch (e.law) {
    case PortElement::Law::Junction: {
        const auto& j = net.junctions[e.index];
        return std::clamp(v, j.bv > 0 ? -j.bv : -1e4, forward_start(j.is, j.n * kThermalVolts, drive));
    }
    case PortElement::Law::Bipolar:
        return std::clamp(v, port == 0 ? -net.bipolars[e.index].be_bv : -1e4, 0.3); // its current may be a gain times smaller
    case PortElement::Law::Channel:
        return std::clamp(v, -1e4, 1e4);
    }
    return v;
}

// With G = g / (1 + g rs) stamped between the terminals and the junction's volts v = share (terminal volts) - rs (current beyond), what is
// beyond the stamp is share (i(v) - g v): exactly so, or a blocked junction of low resistance would conduct backwards.
PortLaw junction_law(const Junction& j, const Port& port, double v) {
    const double g0 = (port.siemens - kJunctionLeak) / port.share;
    Exponential law = diode(j.is, j.n * kThermalVolts, v);
    add_breakdown(law, j.bv, j.breakdown_n * kThermalVolts, v);
    PortLaw out;
    out.amps[0] = port.share * (law.amps - g0 * v);
    out.slope[0][0] = port.share * (law.slope - g0);
    return out;
}

PortLaw bipolar_law(const Bipolar& q, const Port& be, const Port& bc, const double* v) {
    const auto f = diode(q.is, kThermalVolts, v[0]), r = diode(q.is, kThermalVolts, v[1]);
    Exponential base_emitter{f.amps / q.forward_gain, f.slope / q.forward_gain};
    add_breakdown(base_emitter, q.be_bv, kThermalVolts, v[0]);
    PortLaw out;
    out.amps[0] = base_emitter.amps + f.amps - r.amps - (be.siemens - kJunctionLeak) * v[0];
    out.slope[0][0] = base_emitter.slope + f.slope - (be.siemens - kJunctionLeak);
    out.slope[0][1] = -r.slope;
    out.amps[1] = r.amps / q.reverse_gain - f.amps + r.amps - (bc.siemens - kJunctionLeak) * v[1];
    out.slope[1][0] = -f.slope;
    out.slope[1][1] = r.slope / q.reverse_gain + r.slope - (bc.siemens - kJunctionLeak);
    return out;
}

// Ports already turned so that an N-channel device comes out: vds, vgs.
PortLaw channel_law(const Channel& m, const double* v) {
    PortLaw out;
    const bool reversed = v[0] < 0;
    const double vds = std::fabs(v[0]), vgs = reversed ? v[1] - v[0] : v[1]; // the lower end is the source
    const double over = vgs - m.threshold;
    if (over <= 0) return out;
    double i, di_ds, di_gs;
    if (vds < over) {
        i = m.gain * (over - vds / 2) * vds;
        di_ds = m.gain * (over - vds);
        di_gs = m.gain * vds;
    } else {
        i = m.gain / 2 * over * over;
        di_ds = 0;
        di_gs = m.gain * over;
    }
    if (!reversed) {
        out.amps[0] = i;
        out.slope[0][0] = di_ds;
        out.slope[0][1] = di_gs;
    } else { // i(vds', vgs') with vds' = -vds, vgs' = vgs - vds, flowing the other way
        out.amps[0] = -i;
        out.slope[0][0] = di_ds + di_gs;
        out.slope[0][1] = -di_gs;
    }
    return out;
}

// Logarithm of the current that the voltages would drive, without the clip that keeps exponentials finite.
double ln_amps(const Netlist& net, const PortElement& e, const double* v) {
    constexpr double kNothing = -1e9;
    switch (e.law) {
    case PortElement::Law::Junction: {
        const auto& j = net.junctions[e.index];
        if (v[0] >= 0) return std::log(j.is) + v[0] / (j.n * kThermalVolts);
        const double leak = std::log(j.is * std::max(1.0, -v[0] / (j.n * kThermalVolts))); // what is beyond the stamp at reverse volts
        return j.bv > 0 ? std::max(leak, std::log(kBreakdownAmps) + (-v[0] - j.bv) / (j.breakdown_n * kThermalVolts)) : leak;
    }
    case PortElement::Law::Bipolar: {
        const auto& q = net.bipolars[e.index];
        const double emitter = q.be_bv > 0 ? std::log(kBreakdownAmps) + (-v[0] - q.be_bv) / kThermalVolts : kNothing;
        const double reverse = std::log(q.is * std::max(1.0, -std::min(v[0], v[1]) / kThermalVolts));
        return std::max({std::log(q.is) + std::max(v[0], v[1]) / kThermalVolts, emitter, reverse});
    }
    case PortElement::Law::Channel: {
        const double amps = std::fabs(channel_law(net.channels[e.index], v).amps[0]);
        return amps > 0 ? std::log(amps) : kNothing;
    }
    }
    return kNothing;
}

// Gauss with row exchange; systems here have a handful of rows, where a library's blocking only costs. False when singular.
template <class Matrix, class Vector>
bool solve_in_place(Matrix& a, Vector& b) {
    const Eigen::Index n = a.rows();
    for (Eigen::Index k = 0; k < n; ++k) {
        Eigen::Index pivot = k;
        for (Eigen::Index i = k + 1; i < n; ++i)
            if (std::fabs(a(i, k)) > std::fabs(a(pivot, k))) pivot = i;
        if (a(pivot, k) == 0) return false;
        if (pivot != k) {
            for (Eigen::Index c = k; c < n; ++c) std::swap(a(k, c), a(pivot, c));
            std::swap(b[k], b[pivot]);
        }
        // Column by column, as they lie in memory.
        const Eigen::Index left = n - k - 1;
        a.col(k).tail(left) /= a(k, k);
        for (Eigen::Index c = k + 1; c < n; ++c)
            if (a(k, c) != 0) a.col(c).tail(left) -= a(k, c) * a.col(k).tail(left);
        b.tail(left) -= b[k] * a.col(k).tail(left);
    }
    for (Eigen::Index k = n; k-- > 0;) {
        b[k] /= a(k, k);
        b.head(k) -= b[k] * a.col(k).head(k);
    }
    return true;
}

template <class Matrix>
bool newton(const Netlist& net, const PortSet& set, const std::vector<int>& active, const Eigen::VectorXd& base, const Matrix& z,
            const PortOptions& options, bool damped, Eigen::VectorXd& v, int& worst) {
    const Eigen::Index n = z.rows();
    using Vector = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, Matrix::MaxRowsAtCompileTime, 1>;
    Matrix jacobian(n, n);
    Vector h(n), residual(n);
    for (int iteration = 0; iteration < options.iterations; ++iteration) {
        jacobian.setIdentity();
        Eigen::Index at = 0;
        for (int number : active) {
            const auto& e = set.elements[static_cast<std::size_t>(number)];
            const PortLaw law = port_law(net, set, e, v.data() + at);
            for (int i = 0; i < e.count; ++i) {
                h[at + i] = law.amps[static_cast<std::size_t>(i)];
                for (int k = 0; k < e.count; ++k) {
                    const double slope = law.slope[static_cast<std::size_t>(i)][static_cast<std::size_t>(k)];
                    if (slope != 0) jacobian.col(at + k) += z.col(at + i) * slope;
                }
            }
            at += e.count;
        }
        residual = base - v - z * h;
        if (!solve_in_place(jacobian, residual)) return false;
        const Vector& step = residual;
        double change = 0, largest = 1;
        at = 0;
        for (int number : active) {
            const auto& e = set.elements[static_cast<std::size_t>(number)];
            for (int i = 0; i < e.count; ++i, ++at) {
                const double wanted = v[at] + step[at];
                if (!std::isfinite(wanted)) {
                    worst = number;
                    return false;
                }
                double next = limited(net, e, i, wanted, v[at]);
                if (damped) {
                    const double most = 0.1 + 0.2 * std::fabs(v[at]);
                    next = std::clamp(next, v[at] - most, v[at] + most);
                }
                const double moved = std::max(std::fabs(next - v[at]), std::fabs(next - wanted));
                if (moved > change) {
                    change = moved;
                    worst = number;
                }
                v[at] = next;
                largest = std::max(largest, std::fabs(next));
            }
        }
        if (change < options.relative * largest) return true; // an open source pushes a floating node to kilovolts
    }
    return false;
}

} // namespace

void PortSet::add_junction(const Netlist& net, std::size_t index) {
    const auto& j = net.junctions[index];
    elements.push_back({PortElement::Law::Junction, index, static_cast<int>(ports.size()), 1, j.part});
    const double zero_bias = stamp == Stamp::ZeroBias ? j.is / (j.n * kThermalVolts) : 0;
    // Beyond the stamp the current starts as is/2 (v / n Vt)^2.
    const double quiet = stamp == Stamp::ZeroBias ? j.n * kThermalVolts * std::sqrt(1.5 / j.is) : 0;
    const double share = 1 / (1 + zero_bias * j.rs);
    ports.push_back({j.anode, j.cathode, zero_bias * share + kJunctionLeak, j.rs, quiet, share});
}

void PortSet::add_bipolar(const Netlist& net, std::size_t index) {
    const auto& q = net.bipolars[index];
    elements.push_back({PortElement::Law::Bipolar, index, static_cast<int>(ports.size()), 2, q.part});
    const auto port = [&](int other, double gain) {
        const double siemens = (stamp == Stamp::ZeroBias ? q.is / (gain * kThermalVolts) : 0) + kJunctionLeak;
        ports.push_back(q.pnp ? Port{other, q.b, siemens, 0, 0} : Port{q.b, other, siemens, 0, 0});
    };
    port(q.e, q.forward_gain);
    port(q.c, q.reverse_gain);
}

void PortSet::add_channel(const Netlist& net, std::size_t index) {
    const auto& m = net.channels[index];
    elements.push_back({PortElement::Law::Channel, index, static_cast<int>(ports.size()), 2, m.part});
    ports.push_back(m.p ? Port{m.s, m.d, kJunctionLeak, 0, 0} : Port{m.d, m.s, kJunctionLeak, 0, 0});
    ports.push_back(m.p ? Port{m.s, m.g, kJunctionLeak, 0, 0} : Port{m.g, m.s, kJunctionLeak, 0, 0});
}

PortLaw port_law(const Netlist& net, const PortSet& set, const PortElement& e, const double* v) {
    switch (e.law) {
    case PortElement::Law::Junction:
        return junction_law(net.junctions[e.index], set.ports[static_cast<std::size_t>(e.first)], v[0]);
    case PortElement::Law::Bipolar:
        return bipolar_law(net.bipolars[e.index], set.ports[static_cast<std::size_t>(e.first)],
                           set.ports[static_cast<std::size_t>(e.first) + 1], v);
    case PortElement::Law::Channel:
        return channel_law(net.channels[e.index], v);
    }
    return {};
}

double through_amps(const Netlist& net, const PortSet& set, const PortElement& e, const double* v) {
    const auto law = port_law(net, set, e, v);
    double most = 0;
    for (int i = 0; i < e.count; ++i) {
        const double stamped = (set.ports[static_cast<std::size_t>(e.first + i)].siemens - kJunctionLeak) * v[i];
        const double amps = law.amps[static_cast<std::size_t>(i)] + stamped;
        if (std::fabs(amps) > std::fabs(most)) most = amps;
    }
    return most;
}

namespace {

// Newton on those elements that bend enough to move the others; the rest are left out or stand as current sources.
class PortSolver {
public:
    PortSolver(const Netlist& net, const PortSet& set, const Eigen::VectorXd& v0, const Eigen::MatrixXd& z, const PortOptions& options)
        : m_net(net), m_set(set), m_v0(v0), m_z(z), m_options(options), m_root_threshold(std::sqrt(options.threshold)),
          m_is_active(set.elements.size(), 0), m_known(set.elements.size(), 0) {}

    PortSolution solve(const Eigen::VectorXd* guess) {
        m_out.volts = guess ? *guess : m_v0;
        m_out.amps = Eigen::VectorXd::Zero(static_cast<Eigen::Index>(m_set.size()));
        bool at_guess = guess != nullptr;
        for (int round = 0;; ++round) {
            if (m_options.cancel.cancelled()) {
                m_out.converged = false;
                m_out.worst = -1;
                return std::move(m_out);
            }
            if (!grow(at_guess, round > kWeakRounds)) {
                if (!at_guess || !m_rows.empty()) break;
                at_guess = false;
                m_out.volts = m_v0; // nothing conducts at the guess: ask the linear network
                continue;
            }
            at_guess = false;
            solve_active();
            if (!m_out.converged) break;
        }
        return std::move(m_out);
    }

private:
    const Port& port(Eigen::Index row) const { return m_set.ports[static_cast<std::size_t>(row)]; }
    const PortElement& element(int number) const { return m_set.elements[static_cast<std::size_t>(number)]; }

    void activate(std::size_t k, bool known) {
        m_is_active[k] = 1;
        m_known[k] = known;
        m_out.active.push_back(static_cast<int>(k));
        const auto& e = m_set.elements[k];
        for (int i = 0; i < e.count; ++i) {
            m_rows.push_back(e.first + i);
            m_out.amps[e.first + i] = 0;
        }
    }

    bool surely_quiet(const PortElement& e) const {
        const double quiet = port(e.first).quiet;
        if (quiet <= 0 || m_out.amps[e.first] != 0) return false;
        const double v = std::fabs(m_out.volts[e.first]);
        return v < 0.3 * kThermalVolts && v < quiet * m_root_threshold;
    }

    // Whether the element carries enough and bends enough to join; else it becomes a current source or nothing. `moved`: the largest change
    // of such a source.
    bool joins(const PortElement& e, bool no_weak, double& moved) {
        const auto law = port_law(m_net, m_set, e, m_out.volts.data() + e.first);
        bool carries = false, strong = no_weak;
        for (int i = 0; i < e.count; ++i) {
            const auto at = static_cast<std::size_t>(i);
            carries = carries || std::fabs(law.amps[at]) > m_options.threshold;
            const double own = m_z(e.first + i, e.first + i) + port(e.first + i).ohms;
            for (int c = 0; c < e.count; ++c) strong = strong || std::fabs(law.slope[at][static_cast<std::size_t>(c)]) * own > kWeakGain;
        }
        if (carries && strong) return true;
        for (int i = 0; i < e.count; ++i) {
            const double amps = carries ? law.amps[static_cast<std::size_t>(i)] : 0.0;
            moved = std::max(moved, std::fabs(amps - m_out.amps[e.first + i]));
            m_out.amps[e.first + i] = amps;
        }
        return false;
    }

    // Those that the voltages push hardest.
    void keep_hardest(std::vector<std::size_t>& over) const {
        std::vector<std::pair<double, std::size_t>> order;
        for (std::size_t k : over) order.emplace_back(-ln_amps(m_net, m_set.elements[k], m_out.volts.data() + m_set.elements[k].first), k);
        std::partial_sort(order.begin(), order.begin() + static_cast<long>(m_at_once), order.end());
        over.clear();
        for (std::size_t i = 0; i < m_at_once; ++i) over.push_back(order[i].second);
    }

    // Looks at every element that is not in the Newton set. From a guess (`all`), all that conduct there join; else the two that the
    // voltages push hardest, then four and so on: what they take over often spares the others. Whether anything changed.
    bool grow(bool all, bool no_weak) {
        m_over.clear();
        double moved = 0;
        for (std::size_t k = 0; k < m_set.elements.size(); ++k)
            if (m_is_active[k] == 0 && !surely_quiet(m_set.elements[k]) && joins(m_set.elements[k], no_weak, moved)) m_over.push_back(k);
        if (!all && m_over.size() > m_at_once) keep_hardest(m_over);
        if (!m_over.empty()) m_at_once *= 2;
        for (std::size_t k : m_over) activate(k, all);
        return !m_over.empty() || moved > m_options.threshold;
    }

    // The port voltages that everything but the Newton set leaves.
    Eigen::VectorXd without_active() const {
        Eigen::VectorXd volts = m_v0;
        for (Eigen::Index k = 0; k < m_out.amps.size(); ++k)
            if (m_out.amps[k] != 0) volts -= m_z.col(k) * m_out.amps[k];
        return volts;
    }

    void solve_active() {
        for (Eigen::Index row : m_rows) m_out.amps[row] = 0;
        const Eigen::VectorXd left = without_active();
        const auto n = static_cast<Eigen::Index>(m_rows.size());
        Eigen::VectorXd base(n), v(n);
        Eigen::Index at = 0;
        for (int number : m_out.active) {
            const auto& e = element(number);
            for (int i = 0; i < e.count; ++i, ++at) {
                base[at] = port(e.first + i).share * left[e.first + i];
                const double here = m_out.volts[e.first + i];
                v[at] = m_known[static_cast<std::size_t>(number)] != 0 ? here : start_value(m_net, e, i, here, m_options.drive);
            }
            m_known[static_cast<std::size_t>(number)] = 1;
        }
        if (n > 0 && n <= 8) {
            Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, 8, 8> zz(n, n);
            m_out.converged = run(zz, base, v);
        } else if (n > 0) {
            Eigen::MatrixXd zz(n, n);
            m_out.converged = run(zz, base, v);
        }
        at = 0;
        for (int number : m_out.active) {
            const auto& e = element(number);
            const auto law = port_law(m_net, m_set, e, v.data() + at);
            for (int i = 0; i < e.count; ++i) m_out.amps[e.first + i] = law.amps[static_cast<std::size_t>(i)];
            at += e.count;
        }
        m_out.volts = without_active();
        for (Eigen::Index i = 0; i < n; ++i) m_out.volts[m_rows[static_cast<std::size_t>(i)]] = v[i];
    }

    // Plain, then damped, then with the drive raised over six decades, in steps as short as the way asks for.
    template <class Matrix>
    bool run(Matrix& zz, Eigen::VectorXd& base, Eigen::VectorXd& v) {
        const auto n = static_cast<Eigen::Index>(m_rows.size());
        for (Eigen::Index i = 0; i < n; ++i) {
            const Eigen::Index row = m_rows[static_cast<std::size_t>(i)];
            for (Eigen::Index k = 0; k < n; ++k) zz(i, k) = port(row).share * m_z(row, m_rows[static_cast<std::size_t>(k)]);
            zz(i, i) += port(row).ohms;
        }
        const auto settles = [&](const Eigen::VectorXd& drive, bool damped) {
            return newton(m_net, m_set, m_out.active, drive, zz, m_options, damped, v, m_out.worst);
        };
        const Eigen::VectorXd start = v;
        if (settles(base, false)) return true;
        v = start;
        if (settles(base, true)) return true;
        v.setZero();
        double decade = -kSourceDecades, step = kSourceDecades / kSourceSteps;
        while (decade < 0) { // shorter steps where the way is steep
            const double next = std::min(0.0, decade + step);
            const Eigen::VectorXd part = base * std::pow(10.0, next), before = v;
            bool there = settles(part, false);
            if (!there) {
                v = before;
                there = settles(part, true);
            }
            if (there) {
                decade = next;
                step = std::min(step * 1.5, kSourceDecades / kSourceSteps);
            } else {
                v = before;
                step /= 4;
                if (step < kLeastSourceStep) return false;
            }
        }
        return true;
    }

    const Netlist& m_net;
    const PortSet& m_set;
    const Eigen::VectorXd& m_v0;
    const Eigen::MatrixXd& m_z;
    const PortOptions& m_options;
    double m_root_threshold;
    std::vector<char> m_is_active, m_known; // by element; known: its volts are a start already
    std::vector<Eigen::Index> m_rows;       // active ports
    std::vector<std::size_t> m_over;        // room kept between rounds
    std::size_t m_at_once = 2;
    PortSolution m_out;
};

} // namespace

PortSolution solve_ports(const Netlist& net, const PortSet& set, const Eigen::VectorXd& v0, const Eigen::MatrixXd& z,
                         const PortOptions& options, const Eigen::VectorXd* guess) {
    return PortSolver(net, set, v0, z, options).solve(guess);
}

} // namespace ohmo
