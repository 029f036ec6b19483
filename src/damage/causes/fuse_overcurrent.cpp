// SPDX-License-Identifier: GPL-3.0-or-later
// A short behind a line transformer draws the secondary's volts over both windings' resistances; the fuse sees that through the turns ratio
// and melts above a multiple of its rating; where it holds, the link buried in the primary or the winding itself may go.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <algorithm>

namespace ohmo::causes {
namespace {

bool behind_the_transformer(const Case& on) {
    const auto& part = on.part();
    return part.stage == "rectify-out" || (part.stage == "smooth" && is_capacitor(part.kind)) || on.fault.part == on.roles.line_transformer;
}

// Amperes on the primary side with a dead short behind the secondary.
double primary_amps(const Case& on) {
    const auto& p = on.practice();
    const auto& transformer = on.board.part(on.roles.line_transformer);
    const auto pairs = transformer.pairs();
    const auto of = [&](const std::map<std::string, double>& by, std::size_t winding, double fallback) {
        const auto at = by.find(pairs[winding].first->role + "-" + pairs[winding].second->role);
        return at == by.end() ? fallback : at->second;
    };
    const double ratio = of(transformer.turns, 1, 1) / of(transformer.turns, 0, p.primary_turns);
    const double ohms = of(transformer.winding_ohms, 1, p.secondary_ohms) +
                        of(transformer.winding_ohms, 0, p.primary_ohms) * ratio * ratio + p.dead_short_ohms;
    return on.board.mains->volts * ratio / ohms * ratio;
}

} // namespace

void fuse_overcurrent(const Case& on, std::vector<Consequence>& out) {
    if (on.roles.line_transformer < 0 || !on.board.mains || !on.shorted() || !behind_the_transformer(on)) return;
    const auto& branches = on.roles.branch_fuses; // which go first
    if (std::any_of(branches.begin(), branches.end(), [&](const BranchFuse& fuse) { return fuse.first && fuse.opened_by(on.board, on.fault); })) return;
    const auto& p = on.practice();
    const double amps = primary_amps(on);
    for (int i : on.roles.input_fuses) {
        const double rated = *likely_value(on.board.part(i))->amps;
        const double melts = p.fuse_melts_above * rated * (on.oversized_fuse ? p.oversized_factor : 1), carries = p.primary_carries * rated;
        out.push_back(consequence({.fault = {i, FaultMode::Open, {}},
                                   .cause = Cause::Overcurrent,
                                   .value = amps,
                                   .limit = melts,
                                   .chance = exceedance(amps / melts, p.fuse_melts_above_spread)}));
        out.push_back(consequence({.fault = {on.roles.line_transformer, FaultMode::Open, {}},
                                   .cause = Cause::Overcurrent,
                                   .value = amps,
                                   .limit = carries,
                                   .chance = p.primary_goes * exceedance(amps / carries, p.primary_carries_spread)}));
    }
}

} // namespace ohmo::causes
