// SPDX-License-Identifier: GPL-3.0-or-later
// What single faults do under power, and what a reading taken then says of each.
#pragma once
#include "damage/figures.h"
#include "damage/live_point.h"
#include "readings/evidence.h"

#include <functional>
#include <map>
#include <optional>
#include <tuple>
#include <utility>

namespace ohmo::belief {

/// One fault at a time, asked for again with every answer.
class Alone {
public:
    Alone(const Board& board, const BoardRoles& roles)
        : m_behaviour(board, roles), m_figures(board, roles), m_points(board, roles, m_behaviour) {}
    const Behaviour& behaviour(const Fault& fault);
    const Figures& figures(const Fault& fault, double load); ///< `load`: share of the rails' full currents
    const Figures& sound(double load);
    Behaviour judge(const std::vector<Fault>& faults) { return m_behaviour.judge(faults); }
    const LivePoints& points() const { return m_points; }
    LiveFigure at(const LivePoint& point, const Fault& fault, double load); ///< what a voltmeter finds there
    LiveFigure sound_at(const LivePoint& point, double load);
    LiveFigure together(const LivePoint& point, const std::vector<Fault>& faults, double load);

private:
    BehaviourModel m_behaviour;
    FiguresModel m_figures;
    LivePoints m_points;
    std::map<Fault, Behaviour> m_known;
    std::map<std::pair<Fault, double>, Figures> m_volts;
    std::map<double, Figures> m_sound;
    std::map<std::tuple<LivePoint::What, NetId, NetId, Fault>, LiveFigure> m_at;
};

/// Volts or ripple of one entry.
struct UnderPower {
    std::function<double(const Fault*)> ln;           ///< density with one fault, or with none (null), up to a constant
    std::function<LiveFigure(const Fault*)> figure{}; ///< what stands there, of volts; nothing for ripple
    bool dead = false;                                ///< of a rail: nothing arrives
    bool path = false;                                ///< how far the energy gets, which is seldom other than what is broken lets it
};

/// Nothing where no sum tells what stands there. `board`, `roles` and `alone` must outlive it.
std::optional<UnderPower> under_power_at(const Observation& read, const Board& board, const BoardRoles& roles, Alone& alone);

} // namespace ohmo::belief
