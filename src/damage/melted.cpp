// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/melted.h"

#include <algorithm>

namespace ohmo {

Melted melt_branch_fuses(const Board& board, const std::vector<BranchFuse>& fuses, const std::vector<Fault>& faults) {
    Melted out;
    std::vector<Fault> opened;
    for (const Fault& f : faults) {
        bool spared = false;
        for (const auto& fuse : fuses) {
            if (!fuse.first || !fuse.opened_by(board, f)) continue;
            opened.push_back({fuse.part, FaultMode::Open, {}});
            spared = true;
        }
        if (!spared) out.faults.push_back(f);
    }
    for (const Fault& f : opened)
        if (std::find(out.faults.begin(), out.faults.end(), f) == out.faults.end()) out.faults.push_back(f);
    out.any = !opened.empty();
    return out;
}

} // namespace ohmo
