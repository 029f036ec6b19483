// SPDX-License-Identifier: GPL-3.0-or-later
// What the unit does under power with a set of faults, and which words a customer would use for it.
#pragma once
#include "board/roles.h"
#include "circuit/board_circuit.h"
#include "damage/converters.h"
#include "damage/scenario.h"

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
    bool violent = false;        ///< something broke with noise
    bool let_through = false;    ///< a rail gets what feeds its converter: what runs on it may not live to run
    bool fuse_open = false;      ///< `running` is then what it does with a new fuse
    std::vector<char> lost{};    ///< by rail: nothing arrives there, whatever the others do
    std::vector<char> pulsing{}; ///< by rail: its converter starts and stops, and the others do not; empty where none is told apart
};

std::string_view running_name(Running running);

/// Judges fault sets of one board; remembers what it has solved. Not thread safe; make one per thread.
class BehaviourModel {
public:
    BehaviourModel(const Board& board, BoardRoles roles); ///< `board` must outlive it
    Behaviour judge(const std::vector<Fault>& faults);
    Behaviour judge(const Scenario& scenario); ///< and what its chain broke with noise
    double start_volts(NetId supply) const;    ///< of a chip that the bulk capacitor starts by resistors; 0 of any other net
    /// What the resistances from the bulk capacitor leave of its crest there, volts; a chip clamps it where that is too much.
    double supply_reach(NetId supply, const std::vector<Fault>& faults);

private:
    Running with_fuses(const std::vector<Fault>& faults, Behaviour& out);
    Running run(const std::vector<Fault>& faults, Behaviour& out); ///< as they are: whatever would melt a branch fuse has done so
    struct Entry {                                                 ///< what the resistances on the way in say
        bool input = true, shorted = false;
        std::vector<double> reaches; ///< volts at each of the supplies
    };
    struct Supply { ///< a controller's supply pin that the bulk capacitor starts
        NetId net;
        double start_volts;
    };
    std::vector<char> parts_near(const std::vector<NetId>& nets) const;
    std::vector<Fault> relevant(const std::vector<Fault>& faults, const std::vector<char>& near) const;
    const Entry& entry(const std::vector<Fault>& faults);
    struct Effects { ///< of faults, put together one after the other
        bool overload = false, starves = false, sags = false, high = false, let_through = false, fuse_blows = false, stuck_off = false;
        std::vector<char> stopped, pulsing; ///< by rail, where one of several converters is told apart
    };
    static void take(const std::vector<char>* rails, std::vector<char>& from, bool& all);
    void stop(int part, Effects& e) const;
    void overload(const Part& part, Effects& e) const;
    void add_power_effects(const Fault& f, Effects& e) const;
    void add_control_effects(const Fault& f, Effects& e) const;
    bool across_the_line(const Part& part) const;
    void stop_at_its_pins(const Part& across, Effects& e) const;
    void lose_the_freewheel(const Part& diode, bool shorted, Effects& e) const;
    void stop_what_is_cut_off(const std::vector<Fault>& faults, Effects& e) const;
    void add_starved_chips(const std::vector<Fault>& faults, const Entry& entry, Effects& e) const;
    std::vector<int> unsupplied(const Entry& entry) const;
    bool starts_itself(int chip) const;
    bool holds_a_dropper(const Part& zener) const;
    bool feeds_a_rail(const Part& regulator) const;
    const std::vector<char>& shorted_rails(const std::vector<Fault>& faults);
    bool gives_nothing(const std::vector<Fault>& faults, std::size_t rail) const;
    bool spares(const Part& regulator) const;
    bool limited_rail(std::size_t rail) const { return m_limited[rail][static_cast<std::size_t>(m_board.rails[rail].net_id)] != 0; }
    bool held_at_bay(const Part& part) const;
    void find_limited_rails();
    bool mostly(const std::vector<char>& lost) const; ///< more than half of what it gives
    double start_reach(const DcSolver& solver, const Supply& supply) const;

    const Board& m_board;
    BoardRoles m_roles;
    Converters m_converters;
    BoardCircuit m_circuit;
    std::vector<Fault> m_driven;              ///< what is on while the unit runs, as it looks then
    double m_fuse_melts = 0;                  ///< amperes of the line above which an input fuse goes, or the link in the transformer
    double m_inlet_ohms = 0;                  ///< between the two inlet contacts on the healthy board
    std::vector<double> m_rail_ohms;          ///< of each healthy rail
    std::vector<std::vector<char>> m_limited; ///< by rail, the nets of which a short is its own affair
    std::vector<Supply> m_supplies;
    std::vector<char> m_near_entry, m_near_rails; ///< by part: on an island that the entry's (the rails') resistances are read on
    std::map<std::vector<Fault>, Entry> m_entries;
    std::map<std::vector<Fault>, std::vector<char>> m_rail_shorts;
};

/// Chance that the word is given for a unit that behaves so. Words not about the supply's running give 0.5.
double symptom_chance(const Practice& practice, std::string_view word, const Behaviour& behaviour);

} // namespace ohmo
