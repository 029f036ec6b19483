// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/short_loops.h"

#include "board/net_sets.h"

#include <algorithm>

namespace ohmo {

bool ShortLoops::closed_by(const Board& board, const Fault& fault) const {
    const Part& shorted = board.part(fault.part);
    const auto joins = [&](NetId one, NetId other) {
        return std::any_of(loops.begin(), loops.end(), [&](const Loop& loop) {
            return (within(loop.fed, one) && within(loop.back, other)) || (within(loop.fed, other) && within(loop.back, one));
        });
    };
    switch (fault.mode) {
    case FaultMode::Short:
    case FaultMode::DsShort:
    case FaultMode::CeShort: {
        const bool rectifier = is_diode_like(shorted.kind) || shorted.kind == PartKind::Bridge;
        if (rectifier && std::any_of(shorted.pins.begin(), shorted.pins.end(), [&](const Pin& pin) { return within(at, pin.id); }))
            return true;
        const KindInfo& kind = kind_info(shorted.kind);
        return joins(shorted.net(kind.red), shorted.net(kind.black));
    }
    case FaultMode::SupplyShort: {
        const auto pins = chip_pins(shorted);
        return shorted.kind == PartKind::Regulator ? joins(shorted.net("IN"), shorted.net("GND"))
                                                   : joins(shorted.net(pins.supply), shorted.net(pins.ground));
    }
    default:
        return false;
    }
}

} // namespace ohmo
