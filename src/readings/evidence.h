// SPDX-License-Identifier: GPL-3.0-or-later
// What was seen and read, each with the state of the board at that moment. Made by replaying a job.
#pragma once
#include "circuit/meter.h"
#include "circuit/netlist.h"

#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ohmo {

/// One place to read, in one state of the board.
struct Query {
    Quantity what = Quantity::Ohms;
    NetId red = -1, black = -1;
    int alone = -1; ///< part index when the part is read out of circuit; red and black are its pins' nets
    BoardState state;
    int meter = 0; ///< index into Evidence::meters
    bool operator==(const Query&) const = default;
};

enum class Seen { Symptom, Look, Reading, LiveVolts, LiveRipple, LiveAlternating, Substitute, Cooled, Heated, Verdict, Outside };

struct Observation {
    int entry = -1; ///< index in the journal
    Seen kind = Seen::Symptom;
    std::string word;             ///< symptom, look, outcome or answer; verdict: "good" or "bad"
    std::string check;            ///< outside: what was asked, see readings/outside.h
    int part = -1;                ///< looks, substitutes, verdicts
    std::vector<int> area;        ///< cooled, heated: the parts that the air reached; looks of a stage: its parts
    std::vector<FaultMode> modes; ///< verdict with a mode
    Query query;                  ///< readings
    double value = 0;             ///< SI; a scope's residue as the ESR that the formula makes of it, ohm
    bool over = false, rising = false;
    std::optional<double> load; ///< volts under power: share of the full load, 0 idle; not said: full
    int confirmed = 0;          ///< readings: how often the same was read there before
    std::set<int> renewed;      ///< parts that had been replaced by new ones before this entry
    std::set<int> resoldered;   ///< parts whose joints had been made anew
    bool operator==(const Observation&) const = default;
};

struct Evidence {
    std::vector<Observation> observations;
    std::vector<MeterProfile> meters; ///< at least one; the first is the default
    std::set<std::string> history;    ///< history words
    BoardState state;                 ///< at the end of the journal
    std::set<int> renewed;            ///< their faults no longer count: replaced by new ones, or absent
    std::set<int> resoldered;         ///< their joints are new, they are not
    std::set<int> absent;             ///< looked for and not fitted: never there, whatever the blueprint says
    std::set<int> looked;             ///< parts whose look is on record
    std::set<int> assured;            ///< parts that were out and said to be so once more
    bool live_allowed = false;        ///< the power-up locks are open
};

/// Nothing was mended between the two: of observations, complaints and the evidence as it stands.
template <class One, class Other>
bool of_one_time(const One& a, const Other& b) {
    return a.renewed == b.renewed && a.resoldered == b.resoldered;
}

} // namespace ohmo
