// SPDX-License-Identifier: GPL-3.0-or-later
// Notes for taking apart, which come back as the list for putting together: last out, first in.
#pragma once
#include "job/job.h"

#include <string>
#include <vector>

namespace ohmo {

struct ApartNote {
    int entry = -1;        ///< journal index
    std::string text;      ///< "4 screws M3, left bracket"
    std::string photo;     ///< its picture beside the job, empty where there is none
    bool together = false; ///< put back
};

/// What a note entry does to them: `what` apart or together, everything else is no matter of theirs.
void take_apart_note(const Entry& entry, int index, std::vector<ApartNote>& notes);

/// Those still out, in the order of putting together.
std::vector<ApartNote> to_put_back(const std::vector<ApartNote>& notes);

} // namespace ohmo
