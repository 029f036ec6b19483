// SPDX-License-Identifier: GPL-3.0-or-later
// A picture as it is kept beside a job: turned upright, no larger than needed, with nothing in it but the picture.
#pragma once
#include "base/disk.h"
#include "base/result.h"

#include <QImage>

#include <string>

namespace ohmo {

struct KeptPhoto {
    std::string file; ///< its name: the job's own and a hash of the content
    QImage image;
};

/// Reads PNG or JPEG, whatever its name says, and writes the copy beside the job. Metadata stays behind. To be called off the interface
/// thread. Errors: FileUnreadable, FileTooLarge, UnreadableValue (no picture, or one cut short), FileUnwritable.
Result<KeptPhoto> keep_photo(const Disk& disk, const Path& from, const Path& job);

/// One that is kept already. Errors: as above.
Result<QImage> kept_photo(const Disk& disk, const Path& job, const std::string& file);

} // namespace ohmo
