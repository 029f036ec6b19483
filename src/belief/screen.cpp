// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/screen.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr double kCarries = 0.003; // of a reading's axis for e times the saturation current: the junction matters
constexpr double kLeastPivot = 0.005, kRoundPivot = 1e-9, kNegligible = 1e-3, kLeastOhms = 1e-3, kLeastAmps = 1e-13;
constexpr double kPulledFar = 2.5; // spreads
constexpr int kTried = 7;          // values of a mode's own spread
constexpr double kTriedApart = 0.75, kFarthest = 3;
constexpr double kStill = 1e-3; // touches of a reading that a mode leaves where it was, however strong
constexpr int kCloser = 5;
constexpr double kGoodEnough = -1, kHopeless = -2000; // nats: not worth looking closer

} // namespace

Whereabouts Whereabouts::of(const Circuit& c, std::size_t unknowns) {
    Whereabouts out;
    out.conductors.resize(unknowns);
    out.junctions.resize(unknowns);
    out.reservoirs.resize(unknowns);
    out.cores.resize(unknowns);
    for (std::size_t i = 0; i < c.conductors.size(); ++i)
        out.conductors[static_cast<std::size_t>(c.conductors[i].ohms)].push_back(static_cast<int>(i));
    for (std::size_t i = 0; i < c.junctions.size(); ++i)
        out.junctions[static_cast<std::size_t>(c.junctions[i].is)].push_back(static_cast<int>(i));
    for (std::size_t i = 0; i < c.reservoirs.size(); ++i) {
        out.reservoirs[static_cast<std::size_t>(c.reservoirs[i].farads)].push_back(static_cast<int>(i));
        out.reservoirs[static_cast<std::size_t>(c.reservoirs[i].esr)].push_back(static_cast<int>(i));
    }
    for (std::size_t i = 0; i < c.cores.size(); ++i)
        for (const auto& w : c.cores[i].windings) {
            out.cores[static_cast<std::size_t>(w.ohms)].push_back(static_cast<int>(i));
            out.cores[static_cast<std::size_t>(w.henry)].push_back(static_cast<int>(i));
        }
    return out;
}

Screen::Screen(const Circuit& circuit, const Whereabouts& where, const Bench& bench, const std::vector<Unknown>& prior,
               const std::vector<Sight>& seen, const Fit& base)
    : m_circuit(circuit), m_where(where), m_bench(bench), m_prior(prior), m_seen(seen), m_base(base),
      m_network(circuit, bench.out, bench.meters, base.values), m_paths(seen.size() * circuit.conductors.size()) {
    if (seen.empty()) return;
    Eigen::VectorXd away(static_cast<Eigen::Index>(prior.size()));
    for (std::size_t i = 0; i < prior.size(); ++i) away(static_cast<Eigen::Index>(i)) = base.values[i] - prior[i].middle;
    m_innovation = base.slopes * away;
    for (std::size_t j = 0; j < seen.size(); ++j)
        m_innovation(static_cast<Eigen::Index>(j)) += base.slipped[j] != 0 ? 0 : base.residual[j] * seen[j].touch.noise;
    m_misfit = misfit(m_innovation);
    m_ln_determinant = 2 * base.innovation.matrixLLT().diagonal().array().log().sum();
}

double Screen::misfit(const Eigen::VectorXd& innovation) const { return m_base.innovation.matrixL().solve(innovation).squaredNorm(); }

Screen::Solved& Screen::solved(const std::vector<Override>& values, double z) {
    std::vector<double> key;
    for (const auto& v : values) {
        key.push_back(v.unknown);
        key.push_back(v.middle + z * v.spread);
    }
    auto& there = m_solved[key];
    if (there.network) return there;
    there.values = m_base.values;
    for (const auto& v : values) there.values[static_cast<std::size_t>(v.unknown)] = v.middle + z * v.spread;
    there.network = std::make_unique<Network>(m_circuit, m_bench.out, m_bench.meters, there.values);
    return there;
}

const Forecast& Screen::solved_reading(Solved& there, std::size_t reading) {
    const auto at = there.forecasts.find(reading);
    if (at != there.forecasts.end()) return at->second;
    const auto& s = m_seen[reading];
    return there.forecasts.emplace(reading, there.network->read(s.place, &s.shown, true, m_base.forecasts[reading].get())).first->second;
}

double Screen::left(std::size_t reading, const Forecast& f) const {
    const auto& touch = m_seen[reading].touch;
    return touch.at_least ? std::max(0.0, touch.y - f.y) : touch.y - f.y;
}

const Screen::Path& Screen::path(std::size_t reading, int conductor) {
    auto& there = m_paths[reading * m_circuit.conductors.size() + static_cast<std::size_t>(conductor)];
    if (there) return *there;
    const auto& f = *m_base.forecasts[reading];
    const auto& c = m_circuit.conductors[static_cast<std::size_t>(conductor)];
    there = {std::max(0.0, m_network.between(m_seen[reading].place, f, c.a, c.b)),
             -(f.pull(c.a) - f.pull(c.b)) * (f.volts(c.a) - f.volts(c.b))};
    return *there;
}

std::optional<double> Screen::moved_direct(std::size_t reading, const Override& value, double to) {
    const auto& place = m_seen[reading].place;
    const auto& f = *m_base.forecasts[reading];
    double out = 0;
    for (int e : m_where.conductors[static_cast<std::size_t>(value.unknown)]) {
        const auto& c = m_circuit.conductors[static_cast<std::size_t>(e)];
        if (out_of(reading, c.unit)) continue;
        const double more = siemens(to) - siemens(at(value.unknown));
        if (std::fabs(more) < kLeastAmps) continue;
        const Path& there = path(reading, e);
        const double pivot = 1 + more * there.across;
        double dv = there.volts * more;
        const double v = std::max(1e-9, std::fabs(f.volts(place.red) - f.volts(place.black))), ohms = std::max(f.value, kLeastOhms);
        if (pivot < kLeastPivot) { // opened, and hardly any way round: the sum has lost its digits
            if (std::fabs(dv) > kNegligible * v * kRoundPivot) return std::nullopt;
            continue;
        }
        dv /= pivot;
        if (place.what == Quantity::Diode) {
            out += dv * f.ohm_slope;
            continue;
        }
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
        return place.what == Quantity::Farads ? std::log(1 / (w * std::max(0.0, -x.imag()) + 1 / kMostFarads) + kLastDigitFarads)
                                              : esr_axis(x.real());
    };
    double out = 0;
    const auto change = [&](int p, int q, std::complex<double> more) {
        const std::complex<double> through = (z(a, p) - z(b, p)) - (z(a, q) - z(b, q)), across = z(p, p) + z(q, q) - 2.0 * z(p, q);
        out += axis(whole - through * through * more / (1.0 + more * across)) - axis(whole);
    };
    const auto to = [&](int unknown) {
        for (const auto& o : values)
            if (o.unknown == unknown) return o.middle + z_ * o.spread;
        return at(unknown);
    };
    std::vector<int> done, wound;
    for (const auto& v : values) {
        for (int e : m_where.cores[static_cast<std::size_t>(v.unknown)]) {
            const auto& core = m_circuit.cores[static_cast<std::size_t>(e)];
            if (out_of(reading, core.windings.front().unit) || std::find(wound.begin(), wound.end(), e) != wound.end()) continue;
            wound.push_back(e);
            const auto k = static_cast<Eigen::Index>(core.windings.size());
            Eigen::VectorXcd through(k);
            Eigen::MatrixXcd across(k, k);
            for (Eigen::Index i = 0; i < k; ++i) {
                const auto& p = core.windings[static_cast<std::size_t>(i)];
                through(i) = (z(a, p.a) - z(b, p.a)) - (z(a, p.b) - z(b, p.b));
                for (Eigen::Index j = 0; j < k; ++j) {
                    const auto& q = core.windings[static_cast<std::size_t>(j)];
                    across(i, j) = z(p.a, q.a) - z(p.a, q.b) - z(p.b, q.a) + z(p.b, q.b);
                }
            }
            const Eigen::MatrixXcd more = impedances(core, w, to).inverse() - impedances(core, w, [&](int u) { return at(u); }).inverse();
            const Eigen::MatrixXcd held = Eigen::MatrixXcd::Identity(k, k) + across * more;
            const std::complex<double> less = through.transpose() * more * held.partialPivLu().solve(through);
            out += axis(whole - less) - axis(whole);
        }
        for (int e : m_where.conductors[static_cast<std::size_t>(v.unknown)]) {
            const auto& c = m_circuit.conductors[static_cast<std::size_t>(e)];
            if (!c.winding && !out_of(reading, c.unit)) change(c.a, c.b, siemens(v.middle + z_ * v.spread) - siemens(at(v.unknown)));
        }
        for (int e : m_where.reservoirs[static_cast<std::size_t>(v.unknown)]) {
            const auto& c = m_circuit.reservoirs[static_cast<std::size_t>(e)];
            if (out_of(reading, c.unit) || std::find(done.begin(), done.end(), e) != done.end()) continue;
            done.push_back(e);
            change(c.a, c.b, admittance(c, to(c.farads), to(c.esr), w) - admittance(c, at(c.farads), at(c.esr), w));
        }
    }
    return out;
}

std::vector<std::pair<int, int>> Screen::ends_of(const std::vector<Override>& values) const {
    std::vector<std::pair<int, int>> out;
    for (const auto& v : values)
        for (int e : m_where.conductors[static_cast<std::size_t>(v.unknown)]) {
            const auto& c = m_circuit.conductors[static_cast<std::size_t>(e)];
            out.emplace_back(std::minmax({c.a, c.b}));
        }
    return out;
}

// One opens where the other closes: each by itself would move a reading that both together leave alone.
bool Screen::side_by_side(const std::vector<Override>& values) const {
    auto ends = ends_of(values);
    std::sort(ends.begin(), ends.end());
    return std::adjacent_find(ends.begin(), ends.end()) != ends.end();
}

// Two legs of a bridge: each alone leads nowhere, both together across the reservoir.
bool Screen::one_behind_the_other(const std::vector<Override>& values) const {
    const auto ends = ends_of(values);
    for (std::size_t i = 0; i < ends.size(); ++i)
        for (std::size_t k = 0; k < i; ++k) {
            const auto& [a, b] = ends[i];
            const auto& [c, d] = ends[k];
            if (ends[i] != ends[k] && (a == c || a == d || b == c || b == d)) return true;
        }
    return false;
}

double Screen::moved_together(std::size_t reading, const std::vector<Override>& values, double z) {
    return one_behind_the_other(values) ? moved_solved(reading, values, z) : moved(reading, values, z);
}

std::optional<double> Screen::moved_about(std::size_t reading, const std::vector<Override>& values, double z) {
    if (!is_direct(m_seen[reading].place.what)) return moved_alternating(reading, values, z);
    double out = 0;
    for (const auto& v : values) {
        const auto& junctions = m_where.junctions[static_cast<std::size_t>(v.unknown)];
        if (!junctions.empty() && (v.middle < kJunctionGone) != (at(v.unknown) < kJunctionGone) &&
            !out_of(reading, m_circuit.junctions[static_cast<std::size_t>(junctions.front())].unit)) {
            if (at(v.unknown) < kJunctionGone) return std::nullopt; // may conduct again, where it was not looked at
            if (std::fabs(m_base.forecasts[reading]->slope(v.unknown)) > kCarries) return std::nullopt;
        }
        const auto one = moved_direct(reading, v, v.middle + z * v.spread);
        if (!one) return std::nullopt;
        out += *one;
    }
    return out;
}

double Screen::moved(std::size_t reading, const std::vector<Override>& values, double z) {
    if (!side_by_side(values))
        if (const auto about = moved_about(reading, values, z)) return *about;
    return moved_solved(reading, values, z);
}

double Screen::moved_solved(std::size_t reading, const std::vector<Override>& values, double z) {
    return m_base.residual[reading] * m_seen[reading].touch.noise - left(reading, solved_reading(solved(values, z), reading));
}

// At the middles, with the slopes found there: what opens may make a reading hang on numbers that nobody knows.
double Screen::gain_solved(const std::vector<Override>& values, const std::vector<std::optional<double>>& about) {
    auto& there = solved(values, 0);
    const auto count = static_cast<Eigen::Index>(m_seen.size());
    Eigen::VectorXd variance = m_base.variance, away(variance.size());
    for (Eigen::Index i = 0; i < variance.size(); ++i)
        away(i) = m_base.values[static_cast<std::size_t>(i)] - m_prior[static_cast<std::size_t>(i)].middle;
    for (const auto& v : values) {
        variance(v.unknown) = v.spread * v.spread;
        away(v.unknown) = 0;
    }
    Eigen::MatrixXd slopes = m_base.slopes;
    Eigen::VectorXd r(count);
    Eigen::VectorXd noise2(count);
    for (Eigen::Index j = 0; j < count; ++j) {
        const auto reading = static_cast<std::size_t>(j);
        const auto& touch = m_seen[reading].touch;
        const bool slipped = m_base.slipped[reading] != 0; // says as little as before
        const double blur = slipped ? 0 : about[reading] ? m_base.forecasts[reading]->blur : solved_reading(there, reading).blur;
        noise2(j) = slipped ? kSlipVariance : touch.noise * touch.noise + blur * blur;
        if (slipped) {
            r(j) = 0;
        } else if (about[reading]) {
            r(j) = m_base.residual[reading] * touch.noise - *about[reading];
        } else {
            const auto& f = solved_reading(there, reading);
            slopes.row(j) = f.slope.transpose();
            r(j) = left(reading, f);
            if (touch.at_least && r(j) == 0) slopes.row(j).setZero();
        }
    }
    r += slopes * away;
    Eigen::MatrixXd s = in_common(slopes, variance);
    s.diagonal() += noise2;
    const Eigen::LLT<Eigen::MatrixXd> factored(s);
    const double ln_determinant = 2 * factored.matrixLLT().diagonal().array().log().sum();
    return 0.5 * (m_misfit - factored.matrixL().solve(r).squaredNorm() + m_ln_determinant - ln_determinant);
}

std::vector<Override> Screen::let_go(const std::vector<Override>& values) const {
    std::vector<Override> out;
    for (const auto& v : values)
        for (int e : m_where.conductors[static_cast<std::size_t>(v.unknown)]) {
            const auto& mine = m_circuit.conductors[static_cast<std::size_t>(e)];
            for (const auto& c : m_circuit.conductors) {
                if (c.ohms == v.unknown || std::minmax(c.a, c.b) != std::minmax(mine.a, mine.b)) continue;
                const auto& prior = m_prior[static_cast<std::size_t>(c.ohms)];
                if (std::fabs(at(c.ohms) - prior.middle) > kPulledFar * prior.spread) out.push_back({c.ohms, prior.middle, prior.spread});
            }
        }
    return out;
}

double Screen::gain(const std::vector<Override>& values) {
    const auto count = static_cast<Eigen::Index>(m_seen.size());
    double best = -1e9;
    Eigen::VectorXd d(count);
    std::vector<std::optional<double>> about(m_seen.size());
    if (!side_by_side(values))
        for (std::size_t j = 0; j < m_seen.size(); ++j) about[j] = moved_about(j, values, 0);
    if (std::all_of(about.begin(), about.end(), [](const auto& a) { return a.has_value(); })) {
        // What the readings had pulled these unknowns to, against what they were taken to be, no longer has to be explained.
        Eigen::VectorXd innovation = m_innovation;
        for (const auto& v : values)
            innovation -= m_base.slopes.col(v.unknown) * (at(v.unknown) - m_prior[static_cast<std::size_t>(v.unknown)].middle);
        double best_z = 0;
        std::vector<std::size_t> moving; // more of a conductance moves a reading farther, so that its ends tell
        for (std::size_t j = 0; j < m_seen.size(); ++j) {
            d(static_cast<Eigen::Index>(j)) = m_base.slipped[j] != 0 ? 0 : *about[j];
            const double still = kStill * m_seen[j].touch.noise;
            const auto moves = [&](double z) { return std::fabs(moved_about(j, values, z).value_or(*about[j])) > still; };
            if (m_base.slipped[j] == 0 && (std::fabs(*about[j]) > still || moves(-kFarthest) || moves(kFarthest))) moving.push_back(j);
        }
        const auto try_at = [&](double z) {
            for (std::size_t j : moving)
                d(static_cast<Eigen::Index>(j)) = z == 0 ? *about[j] : moved_about(j, values, z).value_or(*about[j]);
            const double gained = 0.5 * (m_misfit - misfit(innovation - d)) - 0.5 * z * z;
            if (gained <= best) return false;
            best = gained;
            best_z = z;
            return true;
        };
        if (moving.empty()) try_at(0);
        for (int k = 0; k < kTried && !moving.empty(); ++k) try_at((k - kTried / 2) * kTriedApart);
        // How strong a fault is may have to fit to some per cent.
        double step = kTriedApart;
        for (int k = 0; k < kCloser && !moving.empty() && best < kGoodEnough && best > kHopeless; ++k)
            if (!try_at(best_z + step) && !try_at(best_z - step)) step /= 2;
        // Two conductors that shift what junctions carry move a reading by no sum of what each does.
        if (best < kGoodEnough && ends_of(values).size() > 1) {
            for (std::size_t j = 0; j < m_seen.size(); ++j)
                if (is_direct(m_seen[j].place.what)) about[j].reset();
            best = std::max(best, gain_solved(values, about));
        }
    } else {
        best = gain_solved(values, about);
    }
    if (auto back = let_go(values); !back.empty()) {
        back.insert(back.end(), values.begin(), values.end());
        best = std::max(best, gain_solved(back, std::vector<std::optional<double>>(m_seen.size())));
    }
    return best < 0 ? -7 * std::log1p(-best / 7) : best; // far off the sums exaggerate
}

} // namespace ohmo::belief
