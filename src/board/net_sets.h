// SPDX-License-Identifier: GPL-3.0-or-later
// Sets of nets, as marks by net.
#pragma once
#include "board/power_path.h"

#include <algorithm>
#include <vector>

namespace ohmo {

using NetSet = std::vector<char>;

inline bool within(const NetSet& nets, NetId net) { return net >= 0 && !nets.empty() && nets[static_cast<std::size_t>(net)] != 0; }

inline bool listed(const std::vector<NetId>& nets, NetId net) { return std::find(nets.begin(), nets.end(), net) != nets.end(); }

/// What can feed a net or be fed by it.
inline NetSet either_way(const PowerPath& path, NetId net) {
    NetSet out = path.fed_without({net}, -1, false);
    const NetSet back = path.fed_without({net}, -1, true);
    for (std::size_t n = 0; n < out.size(); ++n) out[n] = static_cast<char>(out[n] != 0 || back[n] != 0);
    return out;
}

} // namespace ohmo
