// SPDX-License-Identifier: GPL-3.0-or-later
// What a resistor without a value is likely to be, by where it stands. Internal to what parts are taken for.
#pragma once
#include "board/roles.h"
#include "board/series_feeds.h"

#include <vector>

namespace ohmo {

struct Taken {
    double value = 0;  ///< ohms, farads, henry or amperes
    double spread = 0; ///< ln; 0: known to the kind's own
};

class TakenResistors {
public:
    /// Both must outlive this.
    TakenResistors(const Board& board, const BoardRoles& roles);
    Taken of(int part) const;

private:
    bool low_volts(NetId net) const;
    bool controls(NetId net) const;
    bool stands_still(NetId net) const;
    bool supplies(NetId net) const;
    bool feeds_a_chip(const Part& part) const;
    bool carries_the_current(const Part& part) const;
    bool drives_a_gate(const Part& part) const;
    bool between_windings(const Part& part) const;
    bool damps(const Part& part) const;
    const Part* started_by(const Part& part) const;
    Taken in_series_with(const Rail& rail) const;

    const Board& m_board;
    const Practice& m_p;
    const BoardRoles& m_roles;
    std::vector<SeriesFeed> m_feeds;
};

} // namespace ohmo
