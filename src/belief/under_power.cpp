// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/under_power.h"

#include <algorithm>
#include <cmath>

namespace ohmo::belief {
namespace {

constexpr double kPeakToPeak = 3.46;     // of a triangle, over what a meter set to alternating volts shows of it
constexpr double kOfDirect = 0.3;        // of direct volts: beyond that it is they what a simple meter shows
constexpr double kHalfOfTolerance = 0.5; // one deviation of a rail that is right

double near(double off, double spread) { return -2 * std::log1p(off * off / (4 * spread * spread)); } // heavy tails

double ripple_ln(const Practice& p, double read, double figure) {
    return near(std::log(std::max(read, p.least_ripple) / std::max(figure, p.least_ripple)), p.ripple_spread);
}

} // namespace

std::optional<UnderPower> under_power_at(const Observation& o, const Board& board, const BoardRoles& roles, Alone& alone) {
    const bool alternating = o.kind == Seen::LiveAlternating;
    const auto& p = board.practice();
    const double load = o.load.value_or(1);
    const auto by_figures = [&](const std::function<double(const Figures&)>& ln) {
        return UnderPower{[&alone, load, ln](const Fault* f) { return ln(f == nullptr ? alone.sound(load) : alone.figures(*f, load)); }};
    };
    const bool bulk = board.mains && roles.hv >= 0 && o.query.red == roles.hv && o.query.black == roles.primary_ground;
    const bool hums = alternating && (bulk || roles.switches.empty()); // what a converter leaves is beyond such a range
    const bool ripple = o.kind == Seen::LiveRipple || hums;
    const double v = hums ? kPeakToPeak * o.value : o.value;
    const auto sees_direct = [&](double volts) { return hums && o.value > kOfDirect * std::fabs(volts); };
    if (bulk) {
        if (sees_direct(bulk_volts(board, roles))) return std::nullopt;
        if (ripple) return by_figures([=, &p](const Figures& f) { return ripple_ln(p, v, f.bulk_ripple); });
        return by_figures([=, &p](const Figures& f) {
            return near(v - f.bulk_volts, std::max(p.bulk_volts_spread * std::max(std::fabs(f.bulk_volts), 20.0), 1.0));
        });
    }
    for (std::size_t r = 0; r < board.rails.size() && (hums || !alternating); ++r) {
        const auto& rail = board.rails[r];
        if (o.query.red != rail.net_id || o.query.black != rail.return_id) continue;
        if (sees_direct(rail.volts)) return std::nullopt;
        if (ripple) return by_figures([=, &p](const Figures& f) { return ripple_ln(p, v, f.rails[r].ripple); });
        const double least = std::max(rail.tolerance * std::fabs(rail.volts) * kHalfOfTolerance, 0.03);
        return by_figures([=](const Figures& f) { return near(v - f.rails[r].volts, std::max(f.rails[r].sigma, least)); });
    }
    const auto point = o.kind == Seen::LiveRipple ? std::nullopt : alone.points().at(o.query.red, o.query.black, alternating);
    if (!point) return std::nullopt;
    return UnderPower{[&alone, point = *point, v = o.value](const Fault* f) {
                          const LiveFigure there = f == nullptr ? alone.sound_at(point) : alone.at(point, *f);
                          return near(there.off(v), there.sigma);
                      },
                      true};
}

const Behaviour& Alone::behaviour(const Fault& fault) {
    const auto at = m_known.find(fault);
    return at != m_known.end() ? at->second : m_known.emplace(fault, m_behaviour.judge(std::vector<Fault>{fault})).first->second;
}

const Figures& Alone::sound(double load) {
    const auto at = m_sound.find(load);
    return at != m_sound.end() ? at->second : m_sound.emplace(load, m_figures.of({}, {}, load)).first->second;
}

const LiveFigure& Alone::at(const LivePoint& point, const Fault& fault) {
    const std::tuple key(point.what, point.red, point.black, fault);
    const auto known = m_at.find(key);
    return known != m_at.end() ? known->second : m_at.emplace(key, m_points.of(point, {fault}, behaviour(fault).running)).first->second;
}

const Figures& Alone::figures(const Fault& fault, double load) {
    const std::pair key(fault, load);
    const auto at = m_volts.find(key);
    return at != m_volts.end() ? at->second : m_volts.emplace(key, m_figures.of({fault}, behaviour(fault), load)).first->second;
}

} // namespace ohmo::belief
