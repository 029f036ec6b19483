// SPDX-License-Identifier: GPL-3.0-or-later
// Where one reading proves several parts: from an end of the board through contacts, fuses and windings as far as they lead.
#pragma once
#include "board/board.h"

#include <vector>

namespace ohmo {

/// Parts one after the other that conduct while they are sound, between two nets.
struct SeriesWay {
    NetId from, to;
    std::vector<int> parts; ///< in order, two at the least, each once
};

/// The ends of a board are nets with one pin, of a part that conducts: what plugs and leads go to.
class SeriesWays {
public:
    SeriesWays() = default;
    explicit SeriesWays(const Board& board);

    /// From each end to where nothing conducts on.
    const std::vector<SeriesWay>& all() const { return m_ways; }
    /// Parts passed between these two, either way round; empty where there is no such way.
    const std::vector<int>& between(NetId a, NetId b) const;
    /// The end that a contact of a connector leads to from this net; the net itself without one.
    NetId outside(NetId net) const { return m_outside[static_cast<std::size_t>(net)]; }
    /// The net behind such an end; the net itself where it is none.
    NetId inside(NetId net) const { return m_inside[static_cast<std::size_t>(net)]; }

private:
    std::vector<SeriesWay> m_ways;
    std::vector<NetId> m_outside, m_inside;
};

} // namespace ohmo
