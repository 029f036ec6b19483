// SPDX-License-Identifier: GPL-3.0-or-later
// What a reading in circuit says of one part whatever lies beside it: what is in parallel only lowers it (Lord Rayleigh's monotony of
// resistance), so that a fuse that reads open in its place is open, and a resistor that reads above its value has gone high.
#pragma once
#include "belief/fit.h"
#include "belief/model.h"

#include <vector>

namespace ohmo::belief {

/// By unit and mode: ln of the odds that its readings leave it, 0 at the most, ln `slip` for each reading at the least. `seen` by island.
std::vector<std::vector<double>> ln_whatever_beside(const Model& model, const Bench& bench, const std::vector<std::vector<Sight>>& seen,
                                                    double slip);

} // namespace ohmo::belief
