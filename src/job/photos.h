// SPDX-License-Identifier: GPL-3.0-or-later
// Pictures of a board with the pins marked on them, front and back.
#pragma once
#include "job/job.h"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <vector>

namespace ohmo {

/// In widths of the picture from its upper left corner, so that lengths are the same both ways.
struct PhotoSpot {
    double x = 0, y = 0;
    bool operator==(const PhotoSpot&) const = default;
};

using PhotoMarks = std::map<std::pair<std::string, std::string>, PhotoSpot>; ///< by part and pin

struct BoardPhoto {
    std::string file; ///< beside the job, by its content
    bool back = false;
    PhotoMarks marks;
};

/// A picture of a finding: one part, from near.
struct PartPicture {
    std::string file; ///< beside the job, by its content
    std::string part;
    bool operator==(const PartPicture&) const = default;
};

/// The entry of a picture that was kept: of the front, of the back, of one part.
Entry board_picture(const std::string& file, bool back);
Entry part_picture(const std::string& file, const std::string& part);

/// What a photo entry does to the pictures there are.
void take_photo(const Entry& entry, std::vector<BoardPhoto>& photos, std::vector<PartPicture>& of_parts);

/// The back seen from behind: turned, scaled, moved and mirrored over the front. Least squares over the pins marked on both; nothing below
/// two of them. (B. K. P. Horn, Closed-form solution of absolute orientation, 1987, in the plane, with the mirror put in; from memory.)
struct PhotoAlignment {
    double a = 1, b = 0, x = 0, y = 0; ///< back = a conj(front) + …, in complex numbers
    PhotoSpot back_of(const PhotoSpot& front) const;
    PhotoSpot front_of(const PhotoSpot& back) const;
};
std::optional<PhotoAlignment> align(const PhotoMarks& front, const PhotoMarks& back);

/// The marks of this photo and, through the alignment, those of the other side that it lacks.
struct DerivedMarks {
    PhotoMarks own, derived;
};
DerivedMarks marks_of(const std::vector<BoardPhoto>& photos, std::size_t photo);

} // namespace ohmo
