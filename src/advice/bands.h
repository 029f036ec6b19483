// SPDX-License-Identifier: GPL-3.0-or-later
// Which ranges of a reading belong to which stories. Internal to the next reading.
// Method: predictions in the order of the score axis, neighbours within 1.6 deviations joined; a band that would hold nearly everything is
// parted where the stories below become less likely than those above. Limits in SI units, chances without unit.
#pragma once
#include "advice/next_reading.h"
#include "readings/conditioning.h"

#include <vector>

namespace ohmo {

/// The stories that are told apart, with the parts that were renewed since left out. All lists by story, likeliest first.
struct Living {
    std::vector<double> weights; ///< sum 1
    std::vector<SetId> sets;
    std::vector<std::vector<Fault>> faults;
    Conditioning conditioning;
};

/// One prediction, given the readings so far, and the stories that share it.
struct Signature {
    const Prediction* prediction = nullptr;
    std::shared_ptr<const Prediction> given; ///< owns it where earlier readings changed it
    double p = 0;
    std::vector<std::size_t> carriers; ///< empty when they were not asked for
};
/// Of the first `told` stories.
std::vector<Signature> signatures(const Predictor& predictor, const Query& query, const Living& living, std::size_t told = SIZE_MAX,
                                  bool carriers = true);

/// By rising value, over-range last; the healthy one is always among them. A reading worth `bits` whose outcomes run into each other is
/// parted where one half of the chance gives way to the other.
std::vector<Band> bands_of(const Predictor& predictor, const Query& query, const Living& living, double bits = 0);

} // namespace ohmo
