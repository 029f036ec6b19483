// SPDX-License-Identifier: GPL-3.0-or-later
// What a voltmeter finds under power: on the bulk capacitor and the rails, and on the way of the energy between them, behind the fuse,
// across a winding, on a reservoir, behind a regulator, at a chip's supply pin. How far it gets tells what stops it.
#pragma once
#include "damage/figures.h"

#include <algorithm>
#include <optional>
#include <span>
#include <utility>
#include <vector>

namespace ohmo {

struct LivePoint {
    enum class What {
        Bulk, ///< its capacitor, on boards with mains
        Rail,
        Line,      ///< what the inlet brings: alternating on the mains, direct else
        Winding,   ///< of the line transformer, alternating
        Reservoir, ///< behind a rectifier on such a winding
        Regulated, ///< out of a regulator that is no rail
        Supply,    ///< of a chip that starts from the bulk capacitor
        Handed     ///< of a chip that a transistor hands its supply on to
    };
    What what = What::Line;
    NetId red = -1, black = -1;
    double volts = 0; ///< while all is well, with its sign
    int part = -1;    ///< regulator or chip
    int winding = -1; ///< index into BoardRoles::line_windings
    int rail = -1;
    bool least = false; ///< `volts` is the least: nothing tells what feeds the board
    /// Between bulk capacitor and rails, or before them: a part stops what gets there, or does not.
    bool on_the_way() const { return what != What::Bulk && what != What::Rail; }
};

/// Anything from `low` to `high`, and beyond that with `sigma`.
struct LiveFigure {
    double low = 0, high = 0, sigma = 0; ///< volts
    double off(double volts) const { return std::max({low - volts, volts - high, 0.0}); }
    /// How much farther from zero, whichever way, than anything of it.
    double beyond(double volts) const { return std::max({volts - std::max(high, 0.0), std::min(low, 0.0) - volts, 0.0}); }
};

/// One board's. Not thread safe; `behaviour` and `board` must outlive it.
class LivePoints {
public:
    LivePoints(const Board& board, BoardRoles roles, BehaviourModel& behaviour);

    /// `alternating`: what the meter is set to. Nothing where no sum tells what stands there.
    std::optional<LivePoint> at(NetId red, NetId black, bool alternating) const;

    /// Of bulk capacitor and rails, as the figures of the unit with these faults have them; what parts the leads from there is seen too.
    LiveFigure of(const LivePoint& point, const Figures& figures, std::span<const Fault> faults) const;
    /// On the way, at full load or without: the spreads hold both.
    LiveFigure of(const LivePoint& point, std::vector<Fault> faults, Running running);

private:
    struct Ends { ///< what contacts and coils join to the two ends of a rail or of the bulk capacitor
        std::vector<char> red, black;
    };
    Ends ends(NetId red, NetId black) const;
    bool parted(const LivePoint& point, std::span<const Fault> faults) const;
    bool fed_all_the_same(const LivePoint& point, std::span<const Fault> faults) const;
    bool line_reaches(const LivePoint& point, std::span<const Fault> faults) const;
    bool fuse_spares(const LivePoint& point) const;
    bool winding_reaches(const LivePoint& point, std::span<const Fault> faults) const;
    bool shorted_across(const LivePoint& point, const std::vector<Fault>& faults) const;
    LiveFigure regulated(const LivePoint& point, const std::vector<Fault>& faults, Running running) const;
    LiveFigure supply(const LivePoint& point, const std::vector<Fault>& faults, Running running);
    LiveFigure handed(const LivePoint& point, const std::vector<Fault>& faults, Running running);
    LiveFigure nothing() const { return about(0, m_board.practice().dead_point_spread); }
    static LiveFigure about(double volts, double sigma) { return {volts, volts, sigma}; }

    const Board& m_board;
    BoardRoles m_roles;
    BehaviourModel& m_behaviour;
    std::vector<Ends> m_rails;
    Ends m_bulk;
};

} // namespace ohmo
