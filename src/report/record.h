// SPDX-License-Identifier: GPL-3.0-or-later
// The written record of a job.
#pragma once
#include "base/disk.h"
#include "job/pipeline.h"

#include <string>
#include <vector>

namespace ohmo {

/// A photo of the board as it goes into the record.
struct RecordPicture {
    std::string file; ///< beside the job
    std::string title;
    std::string bytes; ///< PNG or JPEG; empty where it could not be read, which the record then says
};
/// The job's photos, read from beside it.
std::vector<RecordPicture> record_pictures(const Disk& disk, const Path& job, const Analysis& analysis);

std::string record_markdown(const Analysis& analysis, const std::vector<RecordPicture>& pictures = {}); ///< names the pictures' files
std::string record_html(const Analysis& analysis, const std::vector<RecordPicture>& pictures = {});     ///< one self-contained page

} // namespace ohmo
