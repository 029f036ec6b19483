// SPDX-License-Identifier: GPL-3.0-or-later
// The power-up ladder: steps with settings, expected figures, abort limits, and the locks that cold evidence must open first.
#pragma once
#include "board/board.h"
#include "board/roles.h"
#include "circuit/energised.h"
#include "powerup/step.h"

#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ohmo {

/// What the journal proves so far; made by job replay.
struct PowerFacts {
    struct Cold {
        double value = 0;
        bool over = false, rising = false;
    };
    std::optional<Cold> bulk_ohms;           ///< across the bulk capacitor, everything in place, after the last repair
    std::map<int, Cold> rail_ohms;           ///< by rail index, likewise
    std::map<int, double> healthy_rail_ohms; ///< predicted for a good board
    std::vector<int> bad_in_place;           ///< parts believed bad and not replaced
    double harm_left = 0;                    ///< chance that damage is left which would take something along when power goes on
    std::vector<int> carriers;               ///< parts that carry it, the most first
    std::vector<int> lifted, pulled;
    std::vector<int> worked, unproven;  ///< new parts, and those of them whose work nothing has proved yet
    bool soot = false, cleaned = false; ///< anything burnt or blown; `clean` logged since
    bool discharged = false;            ///< cold readings are unlocked
    std::vector<StepId> passed;         ///< power steps that passed
    bool aborted = false;               ///< the last power step was aborted
};

enum class LockId { Discharged, BulkClear, RailsClear, BadReplaced, RiskLow, AllRefitted, WorkProven, BarrierClean, Aborted };

struct Lock {
    LockId id;
    bool open = false;
    std::vector<int> parts; ///< who holds it
    std::vector<int> rails;
    double chance = 0; ///< LockId::RiskLow: that damage is left
};

enum class StepState { Passed, Current, Waiting, Locked };

struct Figure {
    std::string where; ///< net name, or "mains-current", "lamp", "controller-current", "bench-current"
    std::string unit;
    double expected = 0, lo = 0, hi = 0;
};

struct LadderStep {
    StepId id;
    std::map<std::string, double> settings; ///< "volts-ac", "volts-dc", "amps-limit", "lamp-watts", "load-share", "minutes"
    std::vector<Figure> figures;
    bool live = false; ///< mains connected
    StepState state = StepState::Waiting;
};

struct LampChoice {
    Lamp lamp;
    double supply_watts = 0;
    LampPoints points;
};

struct Ladder {
    std::vector<Lock> locks;
    std::vector<LadderStep> steps;
    bool locked = true;
    int current = 0;   ///< index of the step to do; steps.size() when all passed; the cold proof while locked
    int under_way = 0; ///< the first step not passed, whatever the locks say: what live readings are held against
    std::optional<LampChoice> lamp;
    double start_volts_ac = 0; ///< transformer setting at which the controller should start; 0 unknown
};

Ladder make_ladder(const Board& board, const BoardRoles& roles, const PowerFacts& facts);

/// Smallest common lamp that lets a load of `watts` run with a third to spare. Volts of the mains scale the lamp.
LampChoice choose_lamp(const Practice& practice, double volts_ac, double watts);

std::string_view lock_name(LockId id);
std::string_view step_state_name(StepState state);

/// Whether the step after these feeds the unit less than its mains: by a lamp, a variable transformer. Nothing passed: no.
bool held_back(const Board& board, const std::vector<StepId>& passed);

} // namespace ohmo
