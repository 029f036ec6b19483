// SPDX-License-Identifier: GPL-3.0-or-later
// One state of an island: the mode of each of its parts, what its readings say of that, and what it weighs. Weights are natural logarithms.
#pragma once
#include "belief/complaints.h"
#include "belief/fit.h"
#include "belief/net.h"

#include <compare>
#include <cstdint>
#include <map>
#include <memory>
#include <vector>

namespace ohmo::belief {

/// What was read and seen of each unit alone: ln likelihood by mode, and what its unknowns are then.
struct DirectEvidence {
    std::vector<std::vector<double>> ln;                     ///< by unit, by mode
    std::vector<std::vector<std::vector<Override>>> refined; ///< by unit, by mode; empty where nothing was read
};

/// A change of one part's mode, alone or with that of one which it brings down. Positions on the island.
inline constexpr std::size_t kNobody = ~std::size_t{0};
struct Screened {
    std::size_t position;
    int mode;
    std::size_t child = kNobody;
    int child_mode = 0;
    auto operator<=>(const Screened&) const = default;
};

struct State {
    std::vector<std::uint8_t> mode;         ///< by unit of the island, in its order; leaves stand at their best
    double evidence = 0;                    ///< of the readings in circuit
    std::vector<double> values;             ///< of the unknowns, as far as they were learned
    double ln_all[kAges] = {};              ///< with the evidence of every leaf
    double ln_silent[kAges][kSubsets] = {}; ///< the same, no complaint of the subset brought about
    double score = 0;
    std::shared_ptr<const Fit> fit;      ///< of a solved state, as long as the search goes on
    std::map<Screened, double> screened; ///< what changes were found to bring, as long as it goes on
    bool solved = true;                  ///< not only added up
    bool expanded = false;
    double p = 0; ///< filled when the islands are joined
};

inline constexpr double kNone = -1e300; ///< ln of nothing
/// ln(e^a + e^b)
double ln_sum(double a, double b);

} // namespace ohmo::belief
