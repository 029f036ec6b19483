// SPDX-License-Identifier: GPL-3.0-or-later
// The written record of a job.
#pragma once
#include "base/disk.h"
#include "job/pipeline.h"

#include <string>
#include <vector>

namespace ohmo {

/// What is written on a picture: a part that is to be replaced or suspect.
struct RecordMark {
    std::string text;
    PhotoSpot spot;
    bool operator==(const RecordMark&) const = default;
};

/// A picture as it goes into the record: of the board, or of what was found on a part.
struct RecordPicture {
    std::string file; ///< beside the job
    std::string title;
    std::vector<RecordMark> marks;
    std::string bytes; ///< PNG or JPEG; empty where it could not be read, which the record then says
    bool operator==(const RecordPicture&) const = default;
};
/// The job's pictures with what is to be written on them, not read yet.
std::vector<RecordPicture> pictures_of(const Analysis& analysis);
/// The same, read from beside the job.
std::vector<RecordPicture> record_pictures(const Disk& disk, const Path& job, const Analysis& analysis);

std::string record_markdown(const Analysis& analysis, const std::vector<RecordPicture>& pictures = {}); ///< names the pictures' files
std::string record_html(const Analysis& analysis, const std::vector<RecordPicture>& pictures = {});     ///< one self-contained page

} // namespace ohmo
