// SPDX-License-Identifier: GPL-3.0-or-later
// What to do next: readings, looks and interventions by expected information per minute.
// Method: the mutual information of outcome and story (D. V. Lindley, On a measure of the information provided by an experiment, 1956), in
// bits, over the minutes of practice that the act takes; the best rate first. Looks one step ahead only. Where nothing promises that and
// something is still open, the plain routine: what is open comes out, part by part, and what surprised is touched again.
#pragma once
#include "board/roles.h"
#include "damage/fault_library.h"
#include "posterior/assess.h"

#include <optional>
#include <vector>

namespace ohmo {

enum class Act {
    Read,
    Look,
    Substitute,
    Pull, ///< a connector, then the reading of `query`, whose state has it pulled
    Cool,
    Assure, ///< whether the part is really out, or apart, as the readings have it
};

/// A range of outcomes that belongs to one group of stories.
struct Band {
    double lo = 0, hi = 0; ///< SI; over-range bands have over = true and no numbers
    bool over = false;
    bool healthy = false;                         ///< what a good board reads
    double p = 0;                                 ///< chance that the reading falls here
    std::optional<Fault> story;                   ///< the fault that sets this group apart; empty: nothing wrong that this reading sees
    std::vector<std::string> looks;               ///< the outcomes of this band when it is no reading
    std::vector<std::pair<int, double>> suspects; ///< parts that are bad if it falls here, with their chance then; likeliest first
};

struct NextAct {
    /// What it is asked for.
    enum class Why {
        Tells,     ///< of something that is open
        Again,     ///< it was taken once and says other than the leading story
        Condemned, ///< its part is to be replaced because the story has it so; nothing of its own says so yet
        Differs,   ///< the story takes its part for sound, but far off its value
        Hid,       ///< `because_of` is to go since it is shorted: its place is read without it, something else may be shorted too
        Blew,      ///< `because_of` is open, and a short of this one may have opened it
        Complaint, ///< what is to be replaced hardly accounts for a word of the complaint, and this part would
        GoesBack,  ///< its part is out, and was not read between all of its pins
        Sweeps,    ///< everything known is settled; this one reading may well show what counts as good otherwise
        Routine,   ///< nothing promises much: part by part, best first
    };
    Act act = Act::Read;
    Query query{};              ///< Act::Read, Act::Pull
    int part = -1;              ///< the part it is about, if one
    std::vector<int> to_lift{}; ///< parts to be lifted for it that are not now
    std::vector<int> through{}; ///< parts in series between the leads that it proves in one go, if it is of that kind
    double bits = 0, minutes = 1;
    double weight = 1;         ///< of its bits in the order: what it may show would take other parts along
    double after = 0;          ///< minutes that are still to be spent on its part once it is done, on average
    std::vector<Band> bands{}; ///< by rising value, over-range last
    bool four_wires = false;   ///< with the meter that resolves milliohms
    Why why = Why::Tells;
    int because_of = -1; ///< the other part that `why` is about
    double rate() const { return weight * bits / (minutes + after); }
};

enum class StopReason {
    None,
    Settled,
    RiskLeft, ///< settled; the acts lower the chance that damage is left which would take something along when power goes on
    NothingTells,
    Contradicted, ///< nothing is left to ask, and confirmed readings speak against the story; not a stop
    NotTraced,    ///< too little of the board is known; not a stop
    NoEvidence,
};

/// What is only assumed of the board and worth looking up: a part's marking, its value, where its pins go.
struct TraceAdvice {
    int part = -1;        ///< none: -1
    bool missing = false; ///< of no part: what was read there hangs on something that has not been entered
    bool differs = false; ///< a reading contradicts what was assumed: look there before a part is condemned
    int entry = -1;       ///< that reading's journal index
    double bits = 0;      ///< how much more the best reading would tell with this part known
    Query query;          ///< that reading
};

struct NextAdvice {
    std::vector<NextAct> acts; ///< best first, 12 at the most
    TraceAdvice trace;         ///< the one part worth tracing next, on boards with assumed parts
    bool stop = false;         ///< enough to repair by
    bool settled = false;      ///< nothing that can be read cold is open and everything that was seen is explained
    std::vector<int> open;     ///< parts neither good nor bad for certain, that a cold reading can decide
    StopReason reason = StopReason::None;
};

/// What every question to the belief needs.
struct Inquiry {
    const Board& board;
    const BoardRoles& roles;
    const FaultLibrary& library;
    const Assessment& assessment;
    const Evidence& evidence;
};

/// Only unpowered readings are offered unless evidence.live_allowed. Errors: Cancelled.
Result<NextAdvice> next_acts(const Inquiry& about, const CancelToken& cancel);

/// Bands of one reading under the present beliefs; the healthy one is always among them.
std::vector<Band> reading_bands(const Board& board, const Assessment& assessment, const Evidence& evidence, const Query& query);

} // namespace ohmo
