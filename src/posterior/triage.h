// SPDX-License-Identifier: GPL-3.0-or-later
// Is it the supply at all? The verdict of everything said so far, what proves it, and what is worth asking before the cover comes off.
#pragma once
#include "posterior/assess.h"
#include "readings/outside.h"

#include <vector>

namespace ohmo {

enum class Verdict {
    NothingSaid,
    Untraced,      ///< too little of the board is known to judge it
    RunsRight,     ///< every rail was right under load: look elsewhere
    Outside,       ///< it comes from there, see `cause`
    WeakUnderLoad, ///< a rail is right idle and low under load
    AtFault,       ///< something on the board
    Open,          ///< not settled
};
std::string_view verdict_name(Verdict verdict); ///< "weak-under-load"

struct OutsideAsk {
    const OutsideCheck* check = nullptr;
    double bits = 0, minutes = 0;
};

struct Triage {
    Verdict verdict = Verdict::NothingSaid;
    Outside cause = Outside::Feed;
    double chance = 0;             ///< of the verdict
    std::vector<int> proved_by;    ///< journal entries
    std::vector<OutsideAsk> asks;  ///< not answered yet, most bits a minute first
    bool rails_would_tell = false; ///< no rail has been read under power yet
    bool earth_open = false;       ///< the protective core is broken: no power before it is mended
};

Triage triage(const Board& board, const Assessment& assessment, const Evidence& evidence);

} // namespace ohmo
