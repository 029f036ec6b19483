// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/disk.h"
#include "job/pipeline.h"

#include <iostream>
#include <optional>
#include <ostream>
#include <string>
#include <vector>

namespace ohmo {

/// Runs `ohmo` with the arguments after the program's name. Returns the exit code: 0 done, 1 the job has problems, 2 wrong usage, 3 a file
/// could not be read or written.
/// `kept`: an analyst that remembers the last board from call to call; made when it is empty. `in`: what `follow` reads.
int run_cli(const std::vector<std::string>& arguments, const Disk& disk, const Path& data, std::ostream& out, std::ostream& err,
            std::optional<Analyst>* kept = nullptr, std::istream& in = std::cin);

} // namespace ohmo
