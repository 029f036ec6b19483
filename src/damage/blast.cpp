// SPDX-License-Identifier: GPL-3.0-or-later
// Reach and factor are common practice, no source: what stands beside a burst part is as often hurt as one in some tens of any age.
#include "damage/blast.h"

#include "damage/telling.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kReached = 0.02;

// Cracks open, splinters tear leads off, soot leaks; nothing dries or drifts of it.
bool comes_of_a_blast(const Part& part, FaultMode mode) {
    switch (mode) {
    case FaultMode::Open:
    case FaultMode::Leaky:
    case FaultMode::Carbon:
    case FaultMode::Breakdown:
    case FaultMode::DryJoint:
        return true;
    case FaultMode::Short:
        return part.kind == PartKind::Ceramic;
    default:
        return false;
    }
}

} // namespace

std::optional<double> distance_mm(const Board& board, int a, int b) {
    const auto &one = board.part(a).place, &other = board.part(b).place;
    if (!one || !other) return std::nullopt;
    return std::hypot(one->x - other->x, one->y - other->y);
}

bool bursts(const Board& board, const Fault& fault) {
    const auto& part = board.part(fault.part);
    if (!conducts_wrongly(fault.mode)) return false;
    if (is_wet_or_solid_electrolytic(part.kind) || part.kind == PartKind::Varistor) return true;
    if (!is_switch_device(part.kind) && !is_controller(part.kind)) return false;
    return std::any_of(board.parts.begin(), board.parts.end(), [](const Part& p) { return p.stage == "bulk" && is_capacitor(p.kind); });
}

Blast blast_on(const Board& board, const std::vector<Fault>& faults, int part) {
    Blast out;
    if (!board.part(part).place) return out;
    for (const auto& f : faults) {
        if (f.part == part || !bursts(board, f)) continue;
        const auto mm = distance_mm(board, f.part, part);
        if (!mm) continue;
        const double share = std::exp(-*mm / board.practice().blast_millimetres);
        if (share > out.share) out = {share, f.part, *mm};
    }
    if (out.share < kReached) return {};
    return out;
}

double blast_factor(const Blast& blast, const Board& board, const Fault& fault) {
    if (blast.share <= 0 || !comes_of_a_blast(board.part(fault.part), fault.mode)) return 1;
    return 1 + (board.practice().beside_burst - 1) * blast.share;
}

Step further_step(const Board& board, const std::vector<Fault>& faults, const Fault& fault) {
    const Blast blast = blast_on(board, faults, fault.part);
    if (blast_factor(blast, board, fault) > 2) return {fault, Cause::Blast, blast.millimetres, board.practice().blast_millimetres, 0};
    return {fault, Cause::Independent, 0, 0, 0};
}

} // namespace ohmo
