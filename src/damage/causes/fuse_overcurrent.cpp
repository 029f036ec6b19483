// SPDX-License-Identifier: GPL-3.0-or-later
// A short behind a line transformer draws the secondary's volts over both windings' resistances; the fuse sees that through the turns ratio
// and melts above a multiple of its rating; where it holds, the link buried in the primary or the winding itself may go.
#include "base/statistics.h"
#include "board/nominal.h"
#include "damage/causes/cause.h"

#include <algorithm>

namespace ohmo::causes {
namespace {

// Amperes on the primary side with this across a secondary, or the strongest of them in itself; 0 where no winding feeds it.
double primary_amps(const Case& on) {
    if (on.fault.part != on.roles.line_transformer) return line_amps_into(on.roles.line_windings, on.board, on.fault);
    double most = 0;
    for (const auto& w : on.roles.line_windings) most = std::max(most, w.primary_amps);
    return most;
}

} // namespace

void fuse_overcurrent(const Case& on, std::vector<Consequence>& out) {
    if (on.roles.input_fuses.empty() || !on.shorted()) return;
    const auto& branches = on.roles.branch_fuses; // which go first
    if (std::any_of(branches.begin(), branches.end(),
                    [&](const BranchFuse& fuse) { return fuse.first && fuse.opened_by(on.board, on.fault); }))
        return;
    const auto& p = on.practice();
    const double amps = primary_amps(on);
    if (amps <= 0) return;
    for (int i : on.roles.input_fuses) {
        const double rated = *likely_value(on.board.part(i))->amps;
        const double melts = p.fuse_melts_above * rated * (on.oversized_fuse ? p.oversized_factor : 1);
        const double draws = on.roles.line_windings.front().amps; // a fuse that is too large tells nothing of the primary
        const double carries = p.primary_carries * (draws > 0 ? std::min(rated, p.taken_fuse_share * draws) : rated);
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
