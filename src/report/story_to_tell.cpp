// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/story_to_tell.h"

namespace ohmo {
namespace {

constexpr double kMostly = 0.5;

} // namespace

std::size_t story_to_tell(const std::vector<Story>& stories) {
    return stories.size() > 1 && stories.front().scenario.steps.empty() && stories.front().p < kMostly ? 1 : 0;
}

} // namespace ohmo
