// SPDX-License-Identifier: GPL-3.0-or-later
// What the unit does under power with a set of faults, and which words a customer would use for it.
#pragma once
#include "circuit/netlist.h"
#include "damage/scenario.h"
#include "damage/topology.h"

#include <map>
#include <string>
#include <string_view>

namespace ohmo {

enum class Running {
    NoInput,   ///< the bulk capacitor stays empty
    BlowsFuse, ///< hard short behind the fuse
    NoStart,   ///< bulk capacitor charged, nothing happens
    Hiccup,    ///< starts and stops
    High,      ///< out of regulation upwards
    Weak,      ///< runs, but sags, hums or stops when warm
    Normal,
};

struct Behaviour {
    Running running = Running::Normal;
    bool violent = false; ///< something broke with noise
};

std::string_view running_name(Running running);

/// Judges fault sets of one board; remembers what it has solved. Not thread safe; make one per thread.
class BehaviourModel {
public:
    explicit BehaviourModel(const Board& board);
    Behaviour judge(const Scenario& scenario);

private:
    struct PrimaryState {
        bool input = true, shorted = false, supplied = true;
    };
    const PrimaryState& primary(const std::vector<Fault>& faults);

    const Board& m_board;
    Topology m_topology;
    std::vector<NetId> m_mains;
    std::map<std::vector<Fault>, PrimaryState> m_memo;
};

/// Chance that the word is given for a unit that behaves so. Words not about the supply's running give 0.5.
double symptom_chance(std::string_view word, const Behaviour& behaviour);

} // namespace ohmo
