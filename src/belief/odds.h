// SPDX-License-Identifier: GPL-3.0-or-later
// What the states of an island weigh: the chances of their modes in the net, of the leaves beside them, and what complaints say.
// A state differs from the best one by a few modes and by what those bring down: only that is summed, and a part beside the same faults
// that stand is reckoned once.
#pragma once
#include "belief/state.h"

#include <algorithm>
#include <array>
#include <map>
#include <span>
#include <vector>

namespace ohmo::belief {

/// The chances and weights of one island's states. Remembers what it has reckoned: not for two threads at once.
class Odds {
public:
    /// `enumerated`: by position, whether its states are told apart; the others are leaves. All must outlive this.
    Odds(const Model& model, const Island& island, const Net& net, const Ages& ages, const DirectEvidence& direct,
         const Complaints& complaints, const std::vector<char>& enumerated);

    /// What parts of other islands may have brought down here, chances by unit and mode. Before settle().
    void brought_by_others(std::map<int, std::vector<double>> chances) { m_brought = std::move(chances); }
    /// Anew once other parts are enumerated. `best`: the modes from which states are told, by position.
    void settle(const std::vector<std::uint8_t>& best);

    /// Fills what the state weighs, its evidence included.
    void score(State& state) const;
    /// Chances of a leaf's modes in a state at one age, likelihoods included, not normalised. No state: nothing stands.
    void leaf(std::size_t position, const State* state, int age, std::vector<double>& chances) const;
    double ln_everything(int age) const; ///< of all parts, leaves or not, without readings in circuit

private:
    struct Sums {
        double ln_all[kAges] = {};
        double ln_silent[kAges][kSubsets] = {};
    };
    struct Brings { ///< a position that a mode brings down, and by which edge
        int child, edge;
        bool in_circle; ///< of the same circle
        auto operator<=>(const Brings&) const = default;
    };
    using Brought = std::vector<Brings>;
    using Causes = std::span<const Brings>; ///< of the same child, in order
    struct InOrder {
        using is_transparent = void;
        bool operator()(const Causes& a, const Causes& b) const {
            return std::lexicographical_compare(a.begin(), a.end(), b.begin(), b.end());
        }
    };
    struct Beside {                                ///< a part beside certain faults that stand
        std::array<std::vector<double>, kAges> ln; ///< by mode, its own evidence included; of an enumerated one
        Sums leaf;                                 ///< over its modes, of a leaf
    };
    struct Standing { ///< in a circle
        int circle;
        std::size_t position;
        Causes causes;
    };

    int mode_of(const State* state, int unit) const;
    const Unit& unit(std::size_t position) const { return m_model.units[static_cast<std::size_t>(m_island.units[position])]; }
    template <class ModeOf>
    void chances(std::size_t position, int age, const ModeOf& mode_of, std::vector<double>& out) const;
    Sums leaf_sums(std::size_t position, const State* state) const;
    Beside made_beside(std::size_t position, const State* state) const;
    const Beside& beside(std::size_t position, const State& state, Causes causes) const;
    void add(Sums& to, std::size_t position, int mode, const Beside& there, double sign) const;
    Brought brought_down(const State& state) const;
    using Circle = std::span<const Standing>; ///< who stands in one
    bool bring_each_other(const Circle& standing) const;
    const std::array<double, kAges>& circle(const State& state, const Circle& standing) const;
    double circle_at(const State& state, const Circle& standing, int age) const;

    const Model& m_model;
    const Island& m_island;
    const Net& m_net;
    const Ages& m_ages;
    const DirectEvidence& m_direct;
    const Complaints& m_complaints;
    const std::vector<char>& m_enumerated;
    std::vector<int> m_position; ///< by unit of the model, -1 elsewhere
    std::map<int, std::vector<double>> m_brought;
    std::vector<std::vector<Brought>> m_brings;                             ///< by position and mode
    std::vector<std::vector<std::array<double, kSubsets>>> m_ln_silent;     ///< by position and mode
    std::vector<std::uint8_t> m_best;                                       ///< by position
    std::vector<Beside> m_by_itself;                                        ///< by position: nothing stands beside it
    Sums m_base;                                                            ///< of the best modes, as if nothing brought anything down
    mutable std::vector<std::map<Brought, Beside, InOrder>> m_beside;       ///< by position
    mutable std::map<std::vector<int>, std::array<double, kAges>> m_circle; ///< by who stands there, how, and what brought it
};

} // namespace ohmo::belief
