// SPDX-License-Identifier: GPL-3.0-or-later
// What a further reading would show under each state that is still alive. Internal to the next reading.
#pragma once
#include "advice/outcomes.h"
#include "belief/belief.h"
#include "board/series_ways.h"
#include "posterior/assess.h"

#include <map>
#include <memory>
#include <optional>
#include <vector>

namespace ohmo {

/// An outcome with the parts that are bad in its state: those of the island and what else stands.
struct Case {
    Outcome outcome;
    std::vector<Fault> faults; ///< of the island the reading is on
};

/// Asks one belief; remembers the boards it has solved. Not for two threads at once.
class Forecasts {
public:
    static constexpr double kLeastMode = 0.0015;
    /// `asked`: by part, whether it is to be decided. What a reading says of others alone is worth nothing. Empty: all are. `least_mode`:
    /// chance below which a part on the leads is not tried in a mode.
    Forecasts(const Board& board, const belief::Belief& belief, const Evidence& evidence, std::vector<char> asked = {},
              double least_mode = kLeastMode);
    ~Forecasts();

    /// Rough: the likeliest states only, spreads of the leader. Empty where nothing is in doubt.
    std::vector<Outcome> roughly(const Query& query);
    /// All states that matter, and every part on the leads itself in each of its modes.
    std::vector<Case> cases(const Query& query);
    /// Of a part out of circuit, by its modes.
    std::vector<Case> cases_alone(const Query& query) const;
    /// Of the likeliest state, whatever these leads have shown before.
    std::optional<Outcome> leading(const Query& query);
    /// As on a sound board, with what was learned.
    std::optional<Outcome> healthy(const Query& query);
    /// By part: how much of the variance of a reading in circuit its unknowns are, in the likeliest state.
    std::map<int, double> variances(const Query& query);
    /// Chance that the leading state shows a value in ohms below `ohms` there.
    double chance_below(const std::vector<Outcome>& outcomes, double ohms) const;

private:
    struct IslandStates;
    IslandStates& states(int island);
    bool asked(int part) const { return m_asked.empty() || m_asked[static_cast<std::size_t>(part)] != 0; }
    int setting(const BoardState& state);
    bool on_the_leads(const belief::Unit& unit, const Query& query) const; ///< or in series between them
    std::optional<belief::Place> place(const Query& query, int& island);
    /// What these leads showed at least twice, whatever was lifted elsewhere in between; null: not read so often, or not the same.
    const Observation* shown_again(const Query& query) const;
    /// The forecast of a state; where `before` was shown again and again, as far off as the state was there. `like`: of another state.
    belief::Forecast read(belief::Network& network, const Query& query, const belief::Place& at, const Observation* before, bool slopes,
                          const belief::Forecast* like = nullptr);
    Outcome outcome(const Query& query, const belief::Forecast& f, double variance) const;

    const Board& m_board;
    const belief::Belief& m_belief;
    const Evidence& m_evidence;
    std::vector<char> m_asked;
    double m_least_mode;
    SeriesWays m_ways;
    belief::Bench m_bench; ///< with settings that are only asked for
    std::vector<std::unique_ptr<IslandStates>> m_islands;
};

} // namespace ohmo
