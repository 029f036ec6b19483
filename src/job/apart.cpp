// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/apart.h"

#include <algorithm>

namespace ohmo {

void take_apart_note(const Entry& entry, int index, std::vector<ApartNote>& notes) {
    if (entry.what == "apart") notes.push_back({index, entry.text, entry.ref, false});
    if (entry.what != "together") return;
    for (auto& n : notes)
        if (entry.target < 0 || n.entry == entry.target) n.together = true;
}

std::vector<ApartNote> to_put_back(const std::vector<ApartNote>& notes) {
    std::vector<ApartNote> out;
    std::copy_if(notes.rbegin(), notes.rend(), std::back_inserter(out), [](const ApartNote& n) { return !n.together; });
    return out;
}

} // namespace ohmo
