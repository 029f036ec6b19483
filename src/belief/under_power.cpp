// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/under_power.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo::belief {
namespace {

constexpr double kBell = 2.5;                           // deviations that hold as much as all of a bell at its height
constexpr double kPeakToPeak = 2 * std::numbers::sqrt3; // of a triangle, over what a meter set to alternating volts shows of it

double near(double off, double spread) { return -2 * std::log1p(off * off / (4 * spread * spread)); } // heavy tails

// Up to what all figures of one volt have in common: anything in a range is as likely, and the wider it is the less.
double ln_density(const LiveFigure& there, double volts) {
    const double width = there.high - there.low;
    return near(there.off(volts), there.sigma) - (std::isfinite(width) ? std::log1p(width / (kBell * there.sigma)) : 0);
}

double ripple_ln(const Practice& p, double read, double figure) {
    return near(std::log(std::max(read, p.least_ripple) / std::max(figure, p.least_ripple)), p.ripple_spread);
}

constexpr double kDead = 3; // deviations of a dead rail

} // namespace

std::optional<UnderPower> under_power_at(const Observation& o, const Board& board, const BoardRoles& roles, Alone& alone) {
    using What = LivePoint::What;
    const bool alternating = o.kind == Seen::LiveAlternating;
    const auto& p = board.practice();
    const double load = o.load.value_or(1);
    const auto direct = alone.points().at(o.query.red, o.query.black, false);
    const bool smooth = direct && !direct->on_the_way();
    const bool hums = alternating && smooth && (direct->what == What::Bulk || roles.line_fed()); // a converter's is beyond that range
    if (o.kind == Seen::LiveRipple || hums) {
        if (!smooth || (hums && o.value > p.ripple_of_direct * std::fabs(direct->volts))) return std::nullopt; // it sees the direct volts
        const double v = hums ? kPeakToPeak * o.value : o.value;
        return UnderPower{.ln = [&alone, &p, load, point = *direct, v](const Fault* f) {
            const Figures& figures = f == nullptr ? alone.sound(load) : alone.figures(*f, load);
            return ripple_ln(p, v,
                             point.what == What::Bulk ? figures.bulk_ripple : figures.rails[static_cast<std::size_t>(point.rail)].ripple);
        }};
    }
    const auto point = alternating ? alone.points().at(o.query.red, o.query.black, true) : direct;
    if (!point) return std::nullopt;
    const auto figure = [&alone, load, point = *point](const Fault* f) {
        return f == nullptr ? alone.sound_at(point, load) : alone.at(point, *f, load);
    };
    return UnderPower{.ln =
                          [figure, v = o.value](const Fault* f) {
                              const LiveFigure there = figure(f);
                              return ln_density(there, v);
                          },
                      .figure = figure,
                      .dead = point->what == What::Rail && std::fabs(o.value) < kDead * p.dead_rail_spread * std::fabs(point->volts),
                      .path = point->on_the_way()};
}

const Behaviour& Alone::behaviour(const Fault& fault) {
    const auto at = m_known.find(fault);
    return at != m_known.end() ? at->second : m_known.emplace(fault, m_behaviour.judge(std::vector<Fault>{fault})).first->second;
}

const Figures& Alone::sound(double load) {
    const auto at = m_sound.find(load);
    return at != m_sound.end() ? at->second : m_sound.emplace(load, m_figures.of({}, {}, load)).first->second;
}

LiveFigure Alone::sound_at(const LivePoint& point, double load) {
    return point.on_the_way() ? m_points.of(point, {}, Running::Normal) : m_points.of(point, sound(load), {});
}

LiveFigure Alone::at(const LivePoint& point, const Fault& fault, double load) {
    if (!point.on_the_way()) {
        const std::vector<Fault> only{fault};
        return m_points.of(point, figures(fault, load), only);
    }
    const std::tuple key(point.what, point.red, point.black, fault);
    const auto known = m_at.find(key);
    return known != m_at.end() ? known->second : m_at.emplace(key, m_points.of(point, {fault}, behaviour(fault).running)).first->second;
}

LiveFigure Alone::together(const LivePoint& point, const std::vector<Fault>& faults, double load) {
    const Behaviour b = m_behaviour.judge(faults);
    return point.on_the_way() ? m_points.of(point, faults, b.running) : m_points.of(point, m_figures.of(faults, b, load), faults);
}

const Figures& Alone::figures(const Fault& fault, double load) {
    const std::pair key(fault, load);
    const auto at = m_volts.find(key);
    return at != m_volts.end() ? at->second : m_volts.emplace(key, m_figures.of({fault}, behaviour(fault), load)).first->second;
}

} // namespace ohmo::belief
