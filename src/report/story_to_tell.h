// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "posterior/assess.h"

#include <cstddef>

namespace ohmo {

/// Index of the story to go by: the likeliest; but that nothing is wrong only where it is likelier than not, else the next. `stories` has
/// at least one.
std::size_t story_to_tell(const std::vector<Story>& stories);

} // namespace ohmo
