// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/network.h"

#include "belief/axis.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr int kMostPorts = 64; // that conduct at once
constexpr int kPortRounds = 8; // in which others join or idle ones leave
using PortMatrix = Eigen::Matrix<double, Eigen::Dynamic, Eigen::Dynamic, 0, kMostPorts, kMostPorts>;
using PortVector = Eigen::Matrix<double, Eigen::Dynamic, 1, 0, kMostPorts, 1>;

constexpr double kTie = 1, kFloor = 1e-13;            // siemens: one node to earth; every node
constexpr double kClampSlope = 0.1, kLnClamp = -34.5; // the meter's compliance as a junction: ln A
const double kClampAmps = std::exp(kLnClamp);
constexpr double kConducts = 0.01;    // V forward before anything is solved: may conduct
constexpr double kLeaksEnough = 1e-4; // A times ohm: a blocked junction that still matters
constexpr double kBegins = 0.03;      // V forward, and of what joins beside others that conduct
constexpr double kIdle = 1e-7;        // V, and of a change of volts: such a port need not be remembered
constexpr double kMostExponent = 200;
constexpr double kMostFall = 1.5;       // V at once, of what conducts
constexpr double kPastFull = 1.1;       // of the full scale that a display may still show
constexpr double kShownHeadroom = 0.08; // V below compliance at which a range is left
constexpr double kNoCompliance = 1e4;
constexpr double kAsMany = 0.6; // of the volts at which the range below is full: what a range is full at, learned currents and all

// How ports that conduct answer each other: volts at them by volts driven into them, to be solved.
template <typename Matrix, typename Vector>
Matrix answering(const Matrix& across, const Vector& siemens) {
    Matrix out = across * siemens.asDiagonal();
    out.diagonal().array() += 1;
    return out;
}

// Gauss with row pivots, in place: in a profile the library spent most of its time on blocks, which a few dozen unknowns do not fill.
void solve_in_place(PortMatrix a, PortVector& x) {
    const auto n = a.rows();
    for (Eigen::Index k = 0; k < n; ++k) {
        Eigen::Index pivot = 0;
        a.col(k).tail(n - k).cwiseAbs().maxCoeff(&pivot);
        if (pivot != 0) {
            a.row(k).tail(n - k).swap(a.row(k + pivot).tail(n - k));
            std::swap(x(k), x(k + pivot));
        }
        for (Eigen::Index i = k + 1; i < n; ++i) a(i, k) /= a(k, k);
        for (Eigen::Index j = k + 1; j < n; ++j) a.col(j).tail(n - k - 1) -= a(k, j) * a.col(k).tail(n - k - 1);
        x.tail(n - k - 1) -= x(k) * a.col(k).tail(n - k - 1);
    }
    for (Eigen::Index k = n - 1; k >= 0; --k) {
        x(k) /= a(k, k);
        x.head(k) -= x(k) * a.col(k).head(k);
    }
}

} // namespace

/// The junctions that conduct at one test current; index -1 is the meter's own compliance.
struct Network::Operating {
    std::vector<int> ports;
    PortVector volts, amps, slope;
    PortMatrix across; ///< volts at each for an ampere that another draws
    Eigen::VectorXd z; ///< of the leads: inverse column of red less that of black
    double ohms = 0;   ///< between the leads without junctions
    double test_amps = 0;
};

const Eigen::MatrixXd& Network::direct(int setting) {
    if (m_direct.size() < m_out.size()) m_direct.resize(m_out.size()); // a setting that was not there when this was made
    auto& z = m_direct[static_cast<std::size_t>(setting)];
    if (z) return *z;
    Eliminated<double> g(*m_order, kFloor);
    g.add_to_earth(0, kTie);
    for (const auto& c : m_circuit.conductors)
        if (!is_out(setting, c.unit)) g.add(c.a, c.b, siemens(value(c.ohms)));
    g.eliminate();
    z = g.inverse();
    return *z;
}

std::pair<int, int> Network::ends(const Place& place, int port) const {
    if (port < 0) return {place.red, place.black};
    const auto& j = m_circuit.junctions[static_cast<std::size_t>(port)];
    return {j.plus, j.minus};
}

// Takes from the volts of every node what a port draws.
void Network::draw(const Place& place, const Eigen::MatrixXd& z, int port, double amps, Eigen::VectorXd& volts) const {
    if (port < 0) {
        volts -= amps * (z.col(place.red) - z.col(place.black));
        return;
    }
    const auto& j = m_circuit.junctions[static_cast<std::size_t>(port)];
    const auto& draws = m_draws[static_cast<std::size_t>(port)];
    for (int q = 0; q < j.count; ++q) volts -= amps * draws[static_cast<std::size_t>(q)] * z.col(j.node[static_cast<std::size_t>(q)]);
}

// Volts from a to b for an ampere that a port draws.
double Network::drawn(const Place& place, const Eigen::MatrixXd& z, int a, int b, int port) const {
    if (port < 0) return z(a, place.red) - z(a, place.black) - z(b, place.red) + z(b, place.black);
    const auto& j = m_circuit.junctions[static_cast<std::size_t>(port)];
    const auto& draws = m_draws[static_cast<std::size_t>(port)];
    double v = 0;
    for (int q = 0; q < j.count; ++q)
        v += draws[static_cast<std::size_t>(q)] * (z(a, j.node[static_cast<std::size_t>(q)]) - z(b, j.node[static_cast<std::size_t>(q)]));
    return v;
}

// Newton's iteration over the ports that conduct; more join while their volts say so. Returns the volts at the leads.
double Network::operate(const Place& place, const Eigen::MatrixXd& z, double amps, double compliance, Operating& at,
                        const Forecast* like) const {
    const auto& js = m_circuit.junctions;
    const auto ln_is = [&](int k) { return k < 0 ? kLnClamp : value(js[static_cast<std::size_t>(k)].is); };
    const auto is_of = [&](int k) { return k < 0 ? kClampAmps : m_saturation[static_cast<std::size_t>(k)]; };
    const auto nv = [&](int k) { return (k < 0 ? kClampSlope : js[static_cast<std::size_t>(k)].n) * kThermalVolts; };
    const auto offset = [&](int k) { return k < 0 ? compliance : 0.0; };
    const auto transfer = [&](int k, int l) { // volts at port k for an ampere drawn by port l
        const auto [p, q] = ends(place, k);
        return drawn(place, z, p, q, l);
    };
    // What conducted at another current, or at other values, is where it begins.
    std::vector<int> before = std::move(at.ports);
    std::vector<double> volts_before(at.volts.data(), at.volts.data() + at.volts.size());
    double amps_before = at.test_amps;
    if (before.empty() && like != nullptr) {
        before = like->ports;
        volts_before = like->port_volts;
        amps_before = like->amps;
    }
    at.z = z.col(place.red) - z.col(place.black);
    at.ohms = at.z(place.red) - at.z(place.black);
    at.test_amps = amps;
    at.ports.clear();
    const auto quiet = [&](int k) {
        const auto [p, q] = ends(place, k);
        return amps * (at.z(p) - at.z(q));
    };
    const auto usable = [&](int k) {
        return k < 0 ? compliance < 100 : ln_is(k) >= kJunctionGone && !is_out(place.setting, js[static_cast<std::size_t>(k)].unit);
    };
    std::vector<double> start;
    const auto join = [&](int k, double v) {
        at.ports.push_back(k);
        start.push_back(v);
    };
    const double ln_more = amps_before > 0 ? std::log(amps / amps_before) : 0;
    for (std::size_t i = 0; i < before.size(); ++i)
        if (usable(before[i])) join(before[i], volts_before[i] + nv(before[i]) * ln_more);
    struct Candidate {
        double ahead; ///< volts by which it would conduct
        int port;
        double volts; ///< to start from
    };
    // As many as there is room for, those first that would conduct most: with nothing solved yet all of a board may seem to.
    const auto join_most = [&](std::vector<Candidate>& candidates) {
        std::stable_sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) { return a.ahead > b.ahead; });
        const auto room = static_cast<std::size_t>(kMostPorts) - at.ports.size();
        if (candidates.size() > room) candidates.resize(room);
        std::sort(candidates.begin(), candidates.end(), [](const Candidate& a, const Candidate& b) { return a.port < b.port; });
        for (const auto& c : candidates) join(c.port, c.volts);
    };
    if (at.ports.empty()) {
        std::vector<Candidate> candidates;
        for (int k = -1; k < static_cast<int>(js.size()); ++k) {
            if (!usable(k)) continue;
            const double u = quiet(k);
            if (u - offset(k) > kConducts || (k >= 0 && is_of(k) * std::fabs(transfer(k, k)) > kLeaksEnough))
                candidates.push_back(
                    {k < 0 ? 1e300 : u, k,
                     std::min(u, k < 0 ? compliance + 0.02 : nv(k) * std::max(1.0, std::log(std::max(amps, 1e-12)) - ln_is(k)))});
        }
        join_most(candidates);
    }
    for (int round = 0; round < kPortRounds; ++round) {
        const int n = static_cast<int>(at.ports.size());
        PortVector u = Eigen::Map<Eigen::VectorXd>(start.data(), n), f(n), df(n), u0(n);
        PortMatrix& k_ = at.across;
        k_.resize(n, n);
        for (int i = 0; i < n; ++i) {
            u0(i) = quiet(at.ports[static_cast<std::size_t>(i)]);
            for (int j = 0; j < n; ++j) k_(i, j) = transfer(at.ports[static_cast<std::size_t>(i)], at.ports[static_cast<std::size_t>(j)]);
        }
        const auto law = [&] {
            for (int i = 0; i < n; ++i) {
                const int k = at.ports[static_cast<std::size_t>(i)];
                const double is = is_of(k), e = is * std::exp(std::min((u(i) - offset(k)) / nv(k), kMostExponent));
                f(i) = e - is;
                df(i) = e / nv(k) + 1e-15;
            }
        };
        for (int it = 0; it < 80 && n > 0; ++it) {
            law();
            PortVector step = u0 - u - k_ * f;
            solve_in_place(answering(k_, df), step);
            double largest = 0;
            for (int i = 0; i < n; ++i) {
                const int k = at.ports[static_cast<std::size_t>(i)];
                double d = std::isfinite(step(i)) ? step(i) : 0;
                const double critical = offset(k) + nv(k) * (std::log(nv(k) * 1e-6) - ln_is(k));
                if (d > 2 * nv(k) && u(i) + d > critical)
                    d = u(i) > critical - 5 * nv(k) ? nv(k) * std::log1p(d / nv(k)) : std::min(d, std::max(critical - u(i), 2 * nv(k)));
                d = std::max(d, -kMostFall - 2 * std::max(0.0, -u(i))); // what blocks may block a thousand volts
                u(i) += d;
                largest = std::max(largest, std::fabs(d) / std::max(1.0, std::fabs(u(i))));
            }
            if (largest < 1e-6) break;
        }
        law();
        at.volts = u;
        at.amps = f;
        at.slope = df;
        start.assign(u.data(), u.data() + n);
        if (round + 1 == kPortRounds) break;
        std::vector<Candidate> candidates;
        Eigen::VectorXd volts = amps * at.z; // of every node
        for (int i = 0; i < n; ++i) draw(place, z, at.ports[static_cast<std::size_t>(i)], f(i), volts);
        for (int k = -1; k < static_cast<int>(js.size()); ++k) {
            const auto [p, q] = ends(place, k);
            const double v = volts(p) - volts(q) - offset(k);
            if (v <= kBegins || !usable(k) || std::find(at.ports.begin(), at.ports.end(), k) != at.ports.end()) continue;
            if (is_of(k) * std::exp(std::min(v / nv(k), kMostExponent)) * std::fabs(transfer(k, k)) > kLeaksEnough)
                candidates.push_back({v, k, std::min(v + offset(k), offset(k) + nv(k) * std::max(1.0, std::log(1e-7) - ln_is(k)))});
        }
        if (candidates.empty()) break;
        if (at.ports.size() + candidates.size() > kMostPorts) // those that carry nothing make room
            for (int i = n - 1; i >= 0; --i) {
                const int k = at.ports[static_cast<std::size_t>(i)];
                if (k < 0 || std::fabs(f(i) * transfer(k, k)) > kLeaksEnough) continue;
                at.ports.erase(at.ports.begin() + i);
                start.erase(start.begin() + i);
            }
        if (at.ports.size() == kMostPorts) break;
        join_most(candidates);
    }
    double v = amps * at.ohms;
    for (int i = 0; i < static_cast<int>(at.volts.size()); ++i) v -= transfer(-1, at.ports[static_cast<std::size_t>(i)]) * at.amps(i);
    return v;
}

// What a current into each node changes of the volts at the leads, and the volts of every node.
void Network::adjoint(const Place& place, const Eigen::MatrixXd& z, const Operating& at, Forecast& out) const {
    const int n = static_cast<int>(at.volts.size());
    out.pull = at.z;
    out.volts = at.test_amps * at.z;
    out.ports.clear();
    out.port_volts.clear();
    out.port_siemens.clear();
    for (int k = 0; k < n; ++k) { // what is idle would only make the next sum longer
        if (at.slope(k) * std::fabs(at.across(k, k)) < kIdle && std::fabs(at.amps(k) * at.across(k, k)) < kIdle) continue;
        out.ports.push_back(at.ports[static_cast<std::size_t>(k)]);
        out.port_volts.push_back(at.volts(k));
        out.port_siemens.push_back(at.slope(k));
    }
    if (n == 0) return;
    PortVector pulled(n); // of each port at the leads
    for (int k = 0; k < n; ++k) {
        const int port = at.ports[static_cast<std::size_t>(k)];
        draw(place, z, port, at.amps(k), out.volts);
        pulled(k) = at.slope(k) * drawn(place, z, place.red, place.black, port);
    }
    solve_in_place(answering(at.across, at.slope).transpose(), pulled);
    for (int k = 0; k < n; ++k) {
        const auto [p, q] = ends(place, at.ports[static_cast<std::size_t>(k)]);
        out.pull -= pulled(k) * (z.col(p) - z.col(q));
    }
}

double Network::between(const Place& place, const Forecast& f, int a, int b) {
    const auto& z = direct(place.setting);
    double ohms = z(a, a) + z(b, b) - 2 * z(a, b);
    const auto n = static_cast<Eigen::Index>(f.ports.size());
    if (n == 0) return ohms;
    const Eigen::VectorXd slope = Eigen::Map<const Eigen::VectorXd>(f.port_siemens.data(), n);
    auto at = m_conducting.find(&f);
    if (at == m_conducting.end()) {
        Eigen::MatrixXd across(n, n);
        for (Eigen::Index i = 0; i < n; ++i) {
            const auto [p, q] = ends(place, f.ports[static_cast<std::size_t>(i)]);
            for (Eigen::Index j = 0; j < n; ++j) across(i, j) = drawn(place, z, p, q, f.ports[static_cast<std::size_t>(j)]);
        }
        at = m_conducting.emplace(&f, Eigen::MatrixXd(answering(across, slope))).first;
    }
    Eigen::VectorXd seen(n), back(n); // volts at each port for an ampere from a to b; from a to b for an ampere that it draws
    for (Eigen::Index i = 0; i < n; ++i) {
        const auto [p, q] = ends(place, f.ports[static_cast<std::size_t>(i)]);
        seen(i) = z(p, a) - z(p, b) - z(q, a) + z(q, b);
        back(i) = drawn(place, z, a, b, f.ports[static_cast<std::size_t>(i)]);
    }
    return ohms - back.dot(slope.cwiseProduct(at->second.solve(seen)));
}

void Network::slopes(const Place& place, const Operating& at, double factor, Forecast& out) const {
    for (const auto& c : m_circuit.conductors) {
        if (is_out(place.setting, c.unit)) continue;
        const double x = (out.pull(c.a) - out.pull(c.b)) * (out.volts(c.a) - out.volts(c.b));
        if (x != 0) out.slope(c.ohms) += factor * x * siemens(value(c.ohms));
    }
    for (int i = 0; i < static_cast<int>(at.volts.size()); ++i) {
        const int k = at.ports[static_cast<std::size_t>(i)];
        if (k < 0) continue;
        const auto& j = m_circuit.junctions[static_cast<std::size_t>(k)];
        const auto& draws = m_draws[static_cast<std::size_t>(k)];
        double d = 0;
        for (int q = 0; q < j.count; ++q) d += out.pull(j.node[static_cast<std::size_t>(q)]) * draws[static_cast<std::size_t>(q)];
        out.slope(j.is) -= factor * d * at.amps(i);
        if (j.gain >= 0) out.slope(j.gain) -= factor * (out.pull(j.node[2]) - out.pull(j.node[1])) * draws[1] * at.amps(i);
    }
}

bool on_the_edge(const MeterProfile& meter, const Shown& shown) {
    return !shown.over && std::any_of(meter.ohms.begin(), meter.ohms.end(),
                                      [&](const OhmsRange& r) { return shown.value >= r.full && shown.value < kPastFull * r.full; });
}

Forecast Network::read(const Place& place, const Shown* shown, bool want_slopes, const Forecast* like) {
    return is_direct(place.what)             ? read_direct(place, shown, want_slopes, like)
           : place.what == Quantity::Residue ? read_square(place, want_slopes)
                                             : read_alternating(place, shown, want_slopes);
}

Forecast Network::read_direct(const Place& place, const Shown* shown, bool want_slopes, const Forecast* like) {
    Forecast out;
    if (want_slopes) out.slope = Eigen::VectorXd::Zero(static_cast<int>(m_values.size()));
    const auto& meter = m_meters[static_cast<std::size_t>(place.meter)];
    const auto& z = direct(place.setting);
    const bool exact = shown != nullptr && !shown->over;
    Operating at;
    if (place.what == Quantity::Diode) {
        const double amps = meter.diode_amps * std::exp(value(meter_unknown(place, MeterUnknown::kDiodeAmps)));
        const double v = operate(place, z, amps, exact ? kNoCompliance : meter.diode_volts, at, like);
        const double gain = std::exp(value(meter_unknown(place, MeterUnknown::kDiode)));
        // Up to what was read, and past it: no flat end in the way of the search.
        const auto [bent, factor] = exact ? diode_axis_towards(v, shown->value) : diode_axis(v);
        out.y = bent * gain;
        out.value = v;
        out.over = v > 2.5;
        out.amps = amps;
        out.ohm_slope = factor * gain;
        if (!want_slopes) return out;
        adjoint(place, z, at, out);
        const double through = !exact && factor < 0.02 ? 0 : factor * gain;
        slopes(place, at, through, out);
        out.slope(meter_unknown(place, MeterUnknown::kDiode)) += out.y;
        out.slope(meter_unknown(place, MeterUnknown::kDiodeAmps)) += through * amps * (out.pull(place.red) - out.pull(place.black));
        return out;
    }
    const int ranges = std::min(static_cast<int>(meter.ohms.size()), MeterUnknown::kRanges);
    int range = 0;
    bool over = false;
    double v = 0, amps = 0;
    const double compliance = exact ? kNoCompliance : meter.compliance;
    const auto amps_of = [&](int k) {
        return meter.ohms[static_cast<std::size_t>(k)].amps * std::exp(value(meter_unknown(place, MeterUnknown::kAmps + k)));
    };
    const auto on = [&](int k) {
        amps = amps_of(k);
        v = operate(place, z, amps, compliance, at, like);
    };
    if (shown != nullptr) {
        range = ranges - 1;
        for (int k = 0; k < ranges && exact; ++k)
            if (shown->value < meter.ohms[static_cast<std::size_t>(k)].full) {
                range = k;
                break;
            }
        on(range);
        // A display goes a little past the full scale, and gains differ: near the edge the range that comes nearer was taken.
        if (exact && range > 0 && shown->taken != RangeTaken::Above &&
            shown->value < kPastFull * meter.ohms[static_cast<std::size_t>(range - 1)].full) {
            const auto misses = [&] { return std::fabs(std::log(std::max(v / amps, 1e-3) / shown->value)); };
            const double above = misses();
            on(range - 1);
            if (misses() < above || shown->taken == RangeTaken::Below)
                --range;
            else
                on(range);
        }
    } else {
        const auto full_volts = [&](int k) { return meter.ohms[static_cast<std::size_t>(k)].full * amps_of(k); };
        const auto fits = [&](int k) {
            on(k);
            return v < full_volts(k) && v < meter.compliance - kShownHeadroom;
        };
        // The lowest that shows it. More current is never fewer volts: below one that is full none will do, if it asks for about as many.
        range = like != nullptr && like->range > 0 ? like->range : 0;
        for (int k = 1; k <= range; ++k)
            if (full_volts(k) < kAsMany * full_volts(k - 1)) range = 0;
        if (range > 0 && fits(range)) {
            Operating there = at;
            double volts = v;
            while (range > 0 && fits(range - 1)) {
                --range;
                there = at;
                volts = v;
            }
            amps = amps_of(range);
            at = std::move(there);
            v = volts;
        } else {
            if (range > 0) ++range;
            while (range < ranges && !fits(range)) ++range;
        }
        over = range == ranges;
        range = std::min(range, ranges - 1);
    }
    const double gain = std::exp(value(meter_unknown(place, MeterUnknown::kOhms)));
    const double ohms = v / amps * gain + value(meter_unknown(place, MeterUnknown::kOffset));
    out.value = ohms;
    out.over = over || ohms > meter.over;
    out.y = ohms_axis(over ? std::max(ohms, 1e9) : ohms);
    out.amps = amps;
    out.range = range;
    const double slope = ohms_axis_slope(ohms);
    out.ohm_slope = slope * gain / amps;
    if (!want_slopes) return out;
    adjoint(place, z, at, out);
    slopes(place, at, out.ohm_slope * (over ? 0.3 : 1), out);
    out.slope(meter_unknown(place, MeterUnknown::kAmps + range)) += slope * gain * (out.pull(place.red) - out.pull(place.black) - v / amps);
    out.slope(meter_unknown(place, MeterUnknown::kOffset)) += slope;
    out.slope(meter_unknown(place, MeterUnknown::kOhms)) += slope * ohms;
    return out;
}

} // namespace ohmo::belief
