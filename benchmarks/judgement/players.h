// SPDX-License-Identifier: GPL-3.0-or-later
// Who decides what is measured next: the program, parts in order, a random order, the usual bench routine. All are scored by the same
// posterior: acts and minutes until every part stands on its right side of 95 %.
#pragma once
#include "advice/next_reading.h"
#include "belief/belief.h"
#include "bench.h"
#include "damage/enumerate.h"

#include <memory>
#include <optional>

namespace ohmo::judgement {

enum class Player { Program, InOrder, Random, Routine };

struct Game {
    bool root_first = false, solved = false, stopped = false, wrong_and_sure = false, outside = false, alarmed = false;
    int acts = 0, until_sure = -1;
    double minutes = 0, minutes_until_sure = 0;
    int missed = 0, needless = 0;
    struct Said {
        double chance;
        bool is;
        std::string fault;
    };
    std::vector<Said> calibration; ///< of every part in doubt at every turn
    std::string truth, said, root_said;
};

/// One board with its predictions and scenarios, shared by all games on it.
class Table {
public:
    Table(Job start, const FaultLibrary& library);
    Game play(Player player, Bench& bench, unsigned seed, bool show);
    const Job& start() const { return m_start; }

private:
    Game play_program(Bench& bench, bool show);
    Game play_fixed(Player player, Bench& bench, unsigned seed);
    Job begin(const Bench& bench) const;
    Job after(Job job, const NextAct& act, const Entry& answer) const;
    std::optional<Assessment> look(const Job& job);
    std::vector<NextAct> fixed_order(Player player, unsigned seed) const;

    Job m_start;
    const FaultLibrary& m_library;
    std::shared_ptr<const BoardRoles> m_roles;
    std::map<std::set<std::string>, belief::Memory> m_memory; ///< by history words
};

} // namespace ohmo::judgement
