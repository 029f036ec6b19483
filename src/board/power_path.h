// SPDX-License-Identifier: GPL-3.0-or-later
// How energy gets from the input to each rail, as a graph of what passes it on: contacts, fuses, windings, inductors, rectifiers the right
// way round, small resistors, pass elements that are driven.
#pragma once
#include "board/board.h"

#include <optional>
#include <span>
#include <string>
#include <vector>

namespace ohmo {

struct BoardRoles;

class PowerPath {
public:
    PowerPath() = default;
    /// Of `roles` everything but its `path` must be there.
    PowerPath(const Board& board, const BoardRoles& roles);

    /// The input reaches the bulk capacitor, the line transformer's primary, the converter's switches or, without any of these, the rails.
    bool input_fed(std::span<const Fault> faults) const;

    struct Feed {
        int whole = 0; ///< sources that reach the rail on the healthy board
        int left = 0;  ///< and with the faults
    };
    /// By rail; sources are windings, the switching node or the input.
    std::vector<Feed> rails(std::span<const Fault> faults) const;

    /// One of the rail's sources reaches this net of its way and comes back.
    bool reaches(std::size_t rail, NetId net, std::span<const Fault> faults) const;

    /// Chips that windings feed through a rectifier, and that none feeds any more: they may start, and have nothing to run on.
    std::vector<int> starved_chips(std::span<const Fault> faults) const;

    /// Nets that hang on the rail through what carries its current back to the rectifier, either way: where a short to the return shorts
    /// it.
    const std::vector<char>& rail_nets(std::size_t rail) const { return m_rail_nets[rail]; }

    /// What hangs on these nets by contacts, fuses, coils, small resistors and rectifiers, but by nothing that holds a short at bay.
    enum class Way { Wire, Forwards, Backwards }; ///< not through rectifiers, with the current, against it
    std::vector<char> stiff_reach(const std::vector<NetId>& from, Way way, int without) const;
    /// What the sources feed with a part open; backwards, what draws on them.
    std::vector<char> fed_without(const std::vector<NetId>& sources, int part, bool backwards) const;
    std::vector<char> fed_with(const std::vector<NetId>& sources, bool backwards, std::span<const Fault> faults) const;
    /// What these nets feed, not by way of a return; backwards, what draws on them.
    std::vector<char> behind(const std::vector<NetId>& nets, bool backwards) const { return reach(nets, backwards, m_returns, {}); }
    /// What hangs on these nets by what passes either way: not rectifiers, regulators, pass transistors.
    std::vector<char> wired_to(const std::vector<NetId>& nets, std::span<const Fault> faults) const;
    const std::vector<NetId>& entry() const { return m_entry; }
    const std::vector<NetId>& returns() const { return m_returns; }

    bool has_input() const { return m_entry.size() >= 2; }

private:
    struct Edge {
        NetId from, to;
        int part;
        const char* leg; ///< of a bridge; null otherwise
        bool both_ways;
        bool soft = false;   ///< a resistor that passes supply current but holds a short at bay
        bool limits = false; ///< a regulator or pass transistor
    };
    void add_edges(const Board& board, const BoardRoles& roles);
    void add_part(const Part& part, int index, bool passes, const Practice& practice);
    /// A half wave of a winding, or what drives the rails of a board that has none.
    struct Source {
        NetId from = -1;
        NetId end = -1; ///< where its current comes back to; -1 where nobody can tell
        int transformer = -1;
        std::vector<std::string> windings{}; ///< that it passes, as faults name them
        std::optional<Source> then(const Source& next) const;
    };
    /// One of its nets must be reached from the input.
    struct Goal {
        std::vector<NetId> nets;
        bool back = false; ///< on the way back to the input
    };
    struct FedChip {
        int part;
        NetId supply, ground;
        std::vector<Source> sources;
    };
    bool reached_by_input(NetId net) const;
    void find_goals(const Board& board, const BoardRoles& roles);
    void find_ways_in(NetId primary_ground);
    void find_sources(const std::vector<Source>& windings, const BoardRoles& roles);
    void find_fed_chips(const Board& board, const std::vector<Source>& windings);
    void find_rail_nets(const Board& board);
    static std::vector<Source> half_waves(const Board& board);
    Feed feed(const std::vector<Source>& sources, NetId to, NetId back, bool backwards, std::span<const Fault> faults) const;
    bool feeds(const Source& source, NetId to, NetId back, bool backwards, std::span<const Fault> faults) const;
    static bool broken(const Edge& edge, std::span<const Fault> faults);
    static bool broken(const Source& source, std::span<const Fault> faults);
    std::vector<char> these(const std::vector<NetId>& nets) const;
    template <class Passes>
    void grow(std::vector<char>& nets, const Passes& passes) const;
    std::vector<char> reach(const std::vector<NetId>& from, bool backwards, const std::vector<NetId>& barred,
                            std::span<const Fault> faults) const;

    std::size_t m_nets = 0;
    std::vector<Rail> m_rails;
    std::vector<Edge> m_edges;
    std::vector<NetId> m_entry;               ///< inlet contacts, outside
    std::vector<NetId> m_behind_dropper;      ///< what it charges; empty without one
    std::vector<NetId> m_ways_in, m_ways_out; ///< of the entry: all of it where nobody can tell
    std::vector<Goal> m_goals;
    std::vector<std::vector<Source>> m_sources; ///< by rail
    std::vector<FedChip> m_fed_chips;
    std::vector<std::vector<char>> m_rail_nets;
    std::vector<NetId> m_returns;
};

} // namespace ohmo
