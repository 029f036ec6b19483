// SPDX-License-Identifier: GPL-3.0-or-later
// Which faults of one island its readings leave, best first from the present best state of every part.
// What is read on a part alone multiplies before anything is enumerated; a part that moves no reading in circuit and brings nothing down is
// summed in closed form (a leaf). Of the others, states are told apart by deviations from the best one; deviations that move different
// readings add up, only those that meet in a reading are solved together. Weights are natural logarithms.
#pragma once
#include "base/cancel.h"
#include "belief/odds.h"
#include "belief/screen.h"
#include "belief/twins.h"

#include <functional>
#include <memory>
#include <vector>

namespace ohmo::belief {

struct SearchLimits {
    double depth = 9.5;     ///< below the best, that still counts
    double slack = 10;      ///< screened below the best, that is not solved
    double least_depth = 5; ///< the same for what is expanded, once most_fits are used up
    int few_fits = 40;      ///< from here on the depth shrinks
    int most_fits = 450;    ///< solved states
    int most_states = 6000;
};

class IslandSearch {
public:
    /// All must outlive this.
    IslandSearch(const Model& model, int island, const Net& net, const Ages& ages, const DirectEvidence& direct,
                 const Complaints& complaints, const Bench& bench, std::vector<Sight> seen, const SearchLimits& limits);

    /// Before run(): what parts of other islands may have brought down here, chances by unit and mode.
    void brought_by_others(std::map<int, std::vector<double>> chances) { m_odds.brought_by_others(std::move(chances)); }
    /// Before run(): junctions that are not there, by their unknowns.
    void without_junctions(std::vector<int> unknowns) { m_absent = std::move(unknowns); }
    void run(const CancelToken& cancel);
    /// Once it has run and its best state gives up readings: the junctions that may not be there, and better are not.
    std::vector<int> better_without() const;
    /// Once it has run: chance of a mode of an enumerated unit by this island's readings alone.
    double alone(int unit, int mode) const;

    const std::vector<std::unique_ptr<State>>& states() const { return m_states; }
    const std::vector<Sight>& seen() const { return m_seen; }
    bool enumerated(std::size_t position) const { return m_enumerated[position] != 0; }
    int position(int unit) const { return m_position[static_cast<std::size_t>(unit)]; } ///< among its units, -1 elsewhere
    bool moved(int unit) const;                                                         ///< whether a reading in circuit speaks of it
    const State& likeliest() const;                                                     ///< once the islands are joined
    int fits() const { return m_fits; }
    const Island& island() const { return m_island; }
    int number() const { return m_number; }
    const Odds& odds() const { return m_odds; }

    std::vector<Unknown> prior_of(const std::vector<std::uint8_t>& mode) const;
    Fit fit_of(const State& state, int rounds, const Near& near = {}) const;
    /// Of the same state with one of its parts sound, fitted anew.
    Fit fit_without(const State& state, std::size_t position) const;

private:
    std::vector<Override> change(std::size_t position, int from, int to) const;
    void add_influenced(const Fit& fit, const std::vector<std::uint8_t>& mode);
    void settle_moves(const Fit& fit, const std::vector<std::uint8_t>& mode, const std::vector<char>* only = nullptr);
    struct Opener { ///< a mode that brings others down, and their positions
        std::size_t position;
        int mode;
        std::vector<char> children;
    };
    std::vector<Opener> openers() const;
    void add_brought_down();
    std::vector<double> start_from(const State& from, const std::vector<std::uint8_t>& mode) const;
    State* find(const std::vector<std::uint8_t>& mode);
    const State* alike(const std::vector<std::uint8_t>& mode) const; ///< solved, and different only in which of twins it is
    State* add(std::unique_ptr<State> state);
    bool bent(const State& state, std::size_t position) const;
    /// Modes with those that change nothing electrical taken back: what readings can tell of a state.
    std::vector<std::uint8_t> told_by_readings(std::vector<std::uint8_t> mode) const;
    void share_fit(State& state);
    State* solve(const State* from, std::vector<std::uint8_t> mode, const Near& near, const std::vector<Override>& let_go = {});
    void keep(State& state, Fit done);
    bool hold_to_all(State& state);
    struct Waiting { ///< worth solving
        double estimate;
        const State* base; ///< found from
        std::vector<std::uint8_t> mode;
        std::shared_ptr<const Fit> around;
        std::vector<char> moved;      ///< by reading
        std::vector<Override> let_go; ///< starts where it was taken to be
        bool operator<(const Waiting& other) const { return estimate < other.estimate; }
    };
    void expand(State& base);
    std::vector<char> moved_by(Screen& screen, const std::vector<Override>& to) const;
    void add_hidden(State& base, std::size_t position, int mode, const std::function<Screen&()>& screen_now, double room, double best);
    void wait_for(const State& base, double estimate, std::vector<std::uint8_t> mode, Screen& screen, const std::vector<Override>& to);
    void solve_waiting();
    void move_among_twins(const State& base);
    bool add_all();
    bool uncovers(const State& state);
    void look_on(const CancelToken& cancel);
    struct Beginning { ///< in order: what gives up the fewest readings, then the likeliest
        int left;      ///< readings still given up
        double worse;  ///< its score, turned round
        std::vector<std::uint8_t> mode;
        std::size_t position; ///< of what was changed
        bool taken_back;      ///< and another deviation was
        auto operator<=>(const Beginning&) const = default;
    };
    std::vector<Beginning> beginnings_from(const State& base, const Fit& around);
    bool begin_again();
    bool look_back();
    bool fit_from(const State& base, State& known);
    bool take_better(State& state, Fit done);
    bool put_in_its_place();
    void look_across_edges();
    void fit_across(State& state, RangeTaken all);
    std::vector<std::vector<std::uint8_t>> with_children(const std::vector<std::uint8_t>& mode, std::size_t position) const;
    std::vector<std::vector<std::uint8_t>> without_others(const std::vector<std::uint8_t>& mode, std::size_t position) const;
    const State* best_state() const; ///< by score, before the islands are joined; null before the first
    double best_score() const;
    State* doubtful(double best) const; ///< the likeliest state that was only added up and weighs in
    /// `solved`: by solving anew; else by the change of one conductance where that has digits enough.
    int slips_mended(Screen& screen, const Fit& around, const std::vector<Override>& to, bool solved) const;
    double depth_now() const;
    void solve_in_place(State& state);
    bool apart(const State& base, std::size_t position) const;
    bool move_one(std::size_t a, std::size_t b) const; ///< both of them, the same reading
    const double* screened_beside(const State& base, const Screened& what);
    bool hopeless(double gain, double estimate, double best) const {
        return gain < -m_limits.slack - 5 || estimate < best - m_limits.slack;
    }
    static constexpr double kTowards = 1.5;     // spreads towards less: what a short or leak may be at the strongest
    static constexpr double kStrained = 3;      // deviations of an unknown: hardly what it is taken to be
    static constexpr double kMoves = 1;         // touches of a reading that a deviation must move to matter in it
    static constexpr std::size_t kExact = 2048; // states, up to which all are added where nothing was read in circuit
    static constexpr double kMended = 0.3;      // of the gap that a reading given up may still keep
    static constexpr std::size_t kRescues = 6;  // a state, best first
    static constexpr double kHides = 0.1;       // chance of what a short opens, that it may then stand behind
    static constexpr double kWeighsIn = 5;      // nats below the best: what was only added up is solved
    static constexpr double kSameFit = 0.1;     // nats: a better fit of the same circuit is taken over
    static constexpr double kBetterFit = 2;     // nats: worth going on from
    static constexpr int kLooksBack = 2;        // at the best state, for parts that it has uncovered
    static constexpr int kBeginnings = 3;       // further ones, of a search whose best state gives up readings

    const Unit& unit(std::size_t position) const { return m_model.units[static_cast<std::size_t>(m_island.units[position])]; }

    const Model& m_model;
    int m_number;
    const Island& m_island;
    const Net& m_net;
    const DirectEvidence& m_direct;
    const Bench& m_bench;
    std::vector<Sight> m_seen;
    SearchLimits m_limits;
    FitOptions m_options;
    Whereabouts m_where;
    std::vector<int> m_position; ///< by unit of the model, -1 elsewhere
    std::vector<char> m_enumerated;
    Odds m_odds;
    std::vector<std::vector<char>> m_moves; ///< by position, by reading
    std::vector<std::uint8_t> m_best_alone;
    std::vector<std::unique_ptr<State>> m_states;
    std::map<std::vector<std::uint8_t>, State*> m_known;
    Twins m_twins;
    std::map<std::vector<std::uint8_t>, const State*> m_alike;               ///< solved ones, twins in order
    std::map<std::vector<std::uint8_t>, std::vector<State*>> m_same_circuit; ///< solved ones, by what readings can tell of them
    std::vector<Waiting> m_waiting;                                          ///< a heap, likeliest first
    std::shared_ptr<const Fit> m_around;                                     ///< of the state that is expanded
    double m_most_evidence = 0;
    std::vector<int> m_absent;   ///< unknowns of junctions that are not there
    bool m_looked_again = false; ///< for parts that the best state has uncovered
    int m_fits = 0, m_expanded = 0, m_looked_back = 0;
};

std::vector<double> middles(const std::vector<Unknown>& prior);

} // namespace ohmo::belief
