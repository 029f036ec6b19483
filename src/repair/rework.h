// SPDX-License-Identifier: GPL-3.0-or-later
// What proves that a new part went in as it should: each slip that rework leaves behind is put on the board, the readings round the part
// are worked out with and without it, and the fewest cheap checks are kept that tell every slip from sound work. A greedy cover (V.
// Chvátal, A greedy heuristic for the set-covering problem, 1979, from memory).
#pragma once
#include "board/edit.h"
#include "readings/evidence.h"

#include <string>
#include <vector>

namespace ohmo {

enum class SlipKind {
    LiftedPad, ///< the lead stands on a pad that has left its track
    Bridge,    ///< solder between two pins side by side
    Reversed,  ///< the wrong way round
    WrongValue,
};

struct Slip {
    SlipKind kind = SlipKind::LiftedPad;
    std::string pin, other; ///< LiftedPad: the pin; Bridge: the two
    double factor = 1;      ///< WrongValue: of the right one
    bool operator==(const Slip&) const = default;
};

enum class CheckKind {
    Look,   ///< by eye, before anything else: what it is to be looked at for is in `catches`
    Joined, ///< a beep from the lead itself to another pin of its net
    Reading,
};

struct ReworkCheck {
    CheckKind kind = CheckKind::Look;
    int part = -1;
    std::string pin;          ///< Joined: the part's lead
    PinName other;            ///< Joined: where its net goes on
    Query query;              ///< Reading
    double low = 0, high = 0; ///< Reading: SI, passes between them
    bool over = false;        ///< Reading: passes beyond the meter's range, and there only
    std::vector<Slip> catches;
};

/// Where a part was put in, and what else is known of the board then.
struct Rework {
    const Board& board;
    const BoardState& state;
    const MeterProfile& meter;
    const std::vector<Fault>& still_bad; ///< of other parts
    bool joints = false;                 ///< the part stayed in its place and was soldered anew
};

/// The slips that can happen to this part.
std::vector<Slip> slips_of(const Board& board, int part);
/// The board with one of them. Parts keep their numbers; nets do not.
Board with_slip(const Board& board, int part, const Slip& slip);

/// Cheapest first. Empty for a part without a place on the board.
std::vector<ReworkCheck> rework_checks(const Rework& rework, int part);

/// Of a reading: whether it is what sound work shows.
bool passes(const ReworkCheck& check, double value, bool over);

} // namespace ohmo
