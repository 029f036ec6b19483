// SPDX-License-Identifier: GPL-3.0-or-later
// Words of the customer and volts under power: what speaks of the whole unit. A complaint is brought about by any fault that does so alone
// (noisy-or), with one chance for none of them; a rail that is right speaks against every fault that would spoil it.
#pragma once
#include "belief/model.h"
#include "belief/under_power.h"
#include "damage/behaviour.h"
#include "readings/evidence.h"
#include "readings/outside.h"

#include <array>
#include <bit>
#include <vector>

namespace ohmo::belief {

inline constexpr int kMostComplaints = 4;
inline constexpr int kSubsets = 1 << kMostComplaints;

/// Several words of one time are one complaint: what explains the least explained of them explains all.
struct Complaint {
    std::vector<int> entries;
    std::set<int> renewed, resoldered;               ///< what had been mended by then
    OutsideOdds outside;                             ///< what was asked of causes outside then
    double made_up = 1;                              ///< how likely it is where nothing known brings it about, against any other complaint
    double leak() const { return outside.itself(); } ///< chance that it comes of itself
};

struct Complaints {
    std::vector<Complaint> list; ///< at most kMostComplaints
    /// By unit and mode: chance that it brings each complaint about.
    std::vector<std::vector<std::array<double, kMostComplaints>>> explains;
    /// By unit and mode: ln of what rails that were right, words of a unit that starts, and of a fuse that blows, leave of it.
    std::vector<std::vector<double>> ln_spared;
    int subsets() const { return 1 << list.size(); }
    double leak_of(int single) const { return list[static_cast<std::size_t>(std::countr_zero(static_cast<unsigned>(single)))].leak(); }
    /// Chance that mode m of a unit brings about none of the complaints of a subset.
    double silent(int unit, int mode, int subset) const;
};

/// `violent`: by unit and mode, breaks with noise.
Complaints make_complaints(const Model& model, const Board& board, const BoardRoles& roles, const Evidence& evidence,
                           const std::vector<std::vector<char>>& violent, Alone& alone);

} // namespace ohmo::belief
