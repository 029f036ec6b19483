// SPDX-License-Identifier: GPL-3.0-or-later
// A unit that comes and goes: its tries one by one, what they have in common, and how many in a row a repair must stand.
#pragma once
#include "board/practice.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

enum class Tried { Runs, Fails, Dies };

struct Try {
    int entry = -1; ///< journal index
    Tried how = Tried::Runs;
    std::optional<bool> warm;      ///< when it was switched on
    std::optional<double> seconds; ///< that it ran before it died
    bool operator==(const Try&) const = default;
};

/// The tries of one time: since the last repair, or before it.
struct TryTrend {
    int tries = 0, faults = 0; ///< faults: did not start or died
    int cold = 0, cold_starts = 0, warm = 0, warm_starts = 0;
    std::vector<double> lived; ///< seconds, in order
    double warm_better = 0.5;  ///< chance that it starts more often warm than cold: flat beforehand, Beta posteriors
    double shorter = 0.5;      ///< chance, by the order of the times it lived (Kendall, 1938), that they grow shorter
    /// The complaint that they come to: "starts-when-warm", "dies-after-minutes", "comes-and-goes", or none.
    std::string word;
    /// Tries in a row without a fault after which the old rate would have shown one, but for tries-luck: how many prove a repair. None
    /// without faults.
    std::optional<int> to_prove;
};

TryTrend trend_of(const Practice& practice, const std::vector<Try>& tries);

/// Chance that a unit with the old rate of faults (flat beforehand) would run `right` times in a row.
double luck_of(const TryTrend& before, int right);

} // namespace ohmo
