// SPDX-License-Identifier: GPL-3.0-or-later
// What a part that stands in one island has brought down in another: a switch takes its controller along through a drive transformer.
#pragma once
#include "belief/search.h"

#include <map>
#include <memory>
#include <vector>

namespace ohmo::belief {

/// By island, unit and mode, chances that parts of other islands brought it about. Once, from what each island says by itself after it was
/// searched; what is found there does not speak back. Islands to which nothing crosses are left out.
std::map<std::size_t, std::map<int, std::vector<double>>> brought_across(const Model& model, const Net& net,
                                                                         const std::vector<std::unique_ptr<IslandSearch>>& islands);

} // namespace ohmo::belief
