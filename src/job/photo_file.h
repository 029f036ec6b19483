// SPDX-License-Identifier: GPL-3.0-or-later
// Where the photos of a job lie, and how large one may be.
#pragma once
#include "base/disk.h"

#include <cstdint>
#include <string>

namespace ohmo {

inline constexpr std::uintmax_t kLargestPhoto = 200u << 20; ///< bytes

/// Beside the job.
inline Path photo_path(const Path& job, const std::string& file) { return job.parent_path() / file; }

} // namespace ohmo
