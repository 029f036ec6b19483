// SPDX-License-Identifier: GPL-3.0-or-later
// The families of supply that a job can start from.
#pragma once
#include "design/draft.h"
#include "design/supply.h"
#include "job/job.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

/// Names of the families, the most usual on a bench first, and the empty board last; each is also a file NAME.json of data/blueprints.
const std::vector<std::string_view>& blueprint_names();
Path blueprint_path(const Path& data, std::string_view name);

struct DesignedJob {
    Job job;                     ///< fresh, every part assumed
    std::vector<DesignSum> sums; ///< where its values come from
};

struct Blueprint {
    std::string name, title;
    std::string recognise;        ///< what to look for on the board
    std::optional<Supply> supply; ///< what it is designed from; nothing for the empty board
    Job job;                      ///< fresh, every part assumed
};

/// Errors: as JobReader::from_blueprint.
Result<Blueprint> read_blueprint(const JobReader& reader, const Disk& disk, const Path& path);

} // namespace ohmo
