// SPDX-License-Identifier: GPL-3.0-or-later
// What the journal says: the board as it is now, the evidence, the charge, what was replaced. Everything shown is computed from this.
#pragma once
#include "board/roles.h"
#include "job/apart.h"
#include "job/job.h"
#include "job/photos.h"
#include "powerup/discharge.h"
#include "powerup/live_check.h"
#include "readings/evidence.h"
#include "readings/tries.h"

#include <map>
#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ohmo {

/// Last known charge of the bulk capacitor.
struct Charge {
    double volts = 0;
    Seconds at = 0;
};

/// A power step as logged.
struct PowerStepLog {
    std::string step;
    bool passed = false;
};

/// What was said of a new part since it went in.
struct Work {
    int since = -1;                     ///< journal index
    std::optional<bool> look;           ///< right or wrong
    std::map<std::string, bool> joined; ///< by lead
    bool all = false;                   ///< everything as it should be, without the single checks
    bool joints = false;                ///< the part stayed, its joints were made anew
};

/// What is in hand: readings that name no meter are taken with it.
struct MeterInHand {
    std::string id;              ///< empty: the usual one
    std::optional<double> leads; ///< ohm that it shows with its tips touched; empty where nobody said
};

struct Replay {
    Board board;                             ///< with what was recognised
    std::shared_ptr<const BoardRoles> roles; ///< of that board; never null
    Evidence evidence;
    MeterInHand hand;            ///< the first of the evidence's meters; what is proposed is read with it
    std::vector<char> retracted; ///< by journal index
    std::vector<std::string> symptoms, history, notes;
    std::map<int, std::string> looks;   ///< by part, the last one
    std::map<int, FaultMode> found_bad; ///< verdicts "bad" with a mode
    std::optional<Charge> charge;
    std::map<std::pair<NetId, NetId>, Charge> measured; ///< unplugged volts between two nets (the lower first) since the last power
    std::vector<ChargeReading> decay;                   ///< since the last mains
    std::vector<std::pair<std::string, double>> live;   ///< net name and volts read under power, in order
    std::vector<NetId> rail_sides;                      ///< by net: see rail_sides(); its readings are those of the rail
    std::vector<LiveReading> live_readings;             ///< since the last power step
    bool mains_on = false;
    bool may_hold_charge = false;               ///< a bulk capacitor, or a board on mains that rectifies them or is too little known to say
    bool cold_unlocked = false;                 ///< a discharge or a low reading since the last power
    PowerFacts facts;                           ///< bad_in_place and healthy_rail_ohms are filled by analysis
    std::map<int, Work> work;                   ///< by part that was put in
    std::map<std::string, std::string> outside; ///< by check: the last answer since something was replaced
    std::vector<std::vector<Try>>
        tries;                    ///< of a unit that comes and goes; a new list after each repair, empty when nothing was tried since
    std::vector<ApartNote> apart; ///< what came off, in order
    std::vector<BoardPhoto> photos;
    std::vector<PartPicture> part_pictures;    ///< in the order they were taken
    std::string outcome;                       ///< last sign-off
    std::vector<std::string> pictures() const; ///< files beside the job
    std::vector<PowerStepLog> steps;
};

Replay replay(const Job& job);

/// What a reading says: its value, of ohms taken with the meter in hand as that would show them with its leads taken off the way its
/// profile says.
double told(const MeterProfile& in_hand, const MeterInHand& hand, const Entry& reading);
double told(const Replay& now, const Entry& reading); ///< of a reading that is taken now

/// Where a reading's leads go: nets of red and black, and the part when it is read alone. Nets are -1 where the part or net is not known.
struct Leads {
    NetId red = -1, black = -1;
    int part = -1;
};
Leads leads_of(const Board& board, const Entry& entry);

} // namespace ohmo
