// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/nature.h"

#include "board/net_sets.h"

#include <algorithm>

namespace ohmo {
namespace {

bool rectifies(const Part& part) { return is_diode_like(part.kind) || part.kind == PartKind::Bridge; }

// Of the mains, of a winding that the mains feeds, or of an adapter's alternating current: not behind a converter.
bool rectifies_the_line(const Board& board, const BoardRoles& roles, const Part& part) {
    if (!rectifies(part) || part.kind == PartKind::Zener) return false;
    if (part.stage == "rectify") return true;
    if (part.stage != "rectify-out") return false;
    if (roles.line_transformer < 0) return roles.line_fed();
    const Part& transformer = board.part(roles.line_transformer);
    return std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) { return transformer.touches(pin.id); });
}

} // namespace

Natures::Natures(const Board& board, const BoardRoles& roles) : m_board(board), m_at_line(board.parts.size(), 0) {
    NetSet rectified(board.nets.size(), 0);
    bool any = false;
    for (std::size_t i = 0; i < board.parts.size(); ++i) {
        if (!rectifies_the_line(board, roles, board.parts[i])) continue;
        m_at_line[i] = 1;
        any = true;
        for (const auto& pin : board.parts[i].pins)
            if (pin.id >= 0) rectified[static_cast<std::size_t>(pin.id)] = 1;
    }
    for (NetId ground : roles.path.returns()) rectified[static_cast<std::size_t>(ground)] = 0;
    if (roles.primary_ground >= 0) rectified[static_cast<std::size_t>(roles.primary_ground)] = 0;
    for (std::size_t i = 0; i < board.parts.size(); ++i) {
        const Part& part = board.parts[i];
        if (is_wet_or_solid_electrolytic(part.kind))
            m_at_line[i] = std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& pin) { return within(rectified, pin.id); });
    }
    if (any)
        for (int i : roles.bulk) m_at_line[static_cast<std::size_t>(i)] = 1; // behind a thermistor or a choke too
}

Nature Natures::of(const Fault& fault) const {
    const Part& part = m_board.part(fault.part);
    const bool at_line = m_at_line[static_cast<std::size_t>(fault.part)] != 0;
    switch (fault.mode) {
    case FaultMode::Intermittent:
    case FaultMode::DryJoint:
        return Nature::OpensAndCloses;
    case FaultMode::Leaky:
    case FaultMode::GateLeak:
        return Nature::Leaks;
    case FaultMode::Dry:
        return at_line ? Nature::LineRipple : Nature::Dry;
    case FaultMode::Open:
    case FaultMode::High:
        if (part.kind == PartKind::Connector || part.kind == PartKind::Switch || part.kind == PartKind::Relay)
            return Nature::OpensAndCloses;
        if (at_line) return Nature::LineRipple;
        return fault.mode == FaultMode::High ? Nature::Drifts : Nature::ForGood;
    case FaultMode::Low:
        return is_capacitor(part.kind) ? Nature::Dry : Nature::Drifts;
    case FaultMode::Weak:
        return Nature::Drifts;
    default:
        return Nature::ForGood;
    }
}

double Natures::chance(const std::string& word, const Fault& fault) const {
    const auto& p = m_board.practice();
    const auto row = p.natures.find(word);
    if (row != p.natures.end()) return row->second[static_cast<std::size_t>(of(fault))];
    return opens_and_closes(fault.mode) ? p.stays_open : 1; // said of what does not come and go
}

} // namespace ohmo
