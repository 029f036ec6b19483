// SPDX-License-Identifier: GPL-3.0-or-later
// What each fault set makes each reading be. Remembers every prediction by the faults that can matter for it.
#pragma once
#include "circuit/meter.h"
#include "damage/behaviour.h"
#include "damage/figures.h"
#include "readings/evidence.h"
#include "readings/fault_sets.h"

#include <array>
#include <concepts>
#include <map>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace ohmo {

/// A reading on its score axis: ln(R + 0.1 ohm), ln(ESR + 0.02 ohm), ln(C + 1 pF), ln(I + 10 nA), volts for
/// diode mode and scope residue.
struct Prediction {
    double x = 0, sigma = 0;        ///< sigma includes meter and leads
    std::vector<Deviation> by_part; ///< changes of x, ascending: what readings share; the heavy ones
    double value = 0;               ///< SI
    bool over = false, rising = false;
    std::optional<double> alternate_x;
    std::vector<int> conducting;
    bool converged = true;
    int failed_part = -1; ///< where the solve did not settle
    int number = 0;       ///< among the different predictions of its query, from 0 without gaps
};

double score_axis(Quantity what, double value);
double score_value(Quantity what, double x); ///< inverse of score_axis, never below 0

/// One board's predictions. Thread safe; results do not depend on the order of calls. Predictions live as long as the predictor.
class Predictor {
public:
    /// `roles` of this board; found here where none are given.
    Predictor(const Board& board, std::vector<MeterProfile> meters, std::shared_ptr<const BoardRoles> roles = nullptr);
    Predictor(const Predictor&) = delete;
    Predictor& operator=(const Predictor&) = delete;

    SetId id(const std::vector<Fault>& faults) const;
    std::vector<SetId> ids(const std::vector<Scenario>& scenarios) const;
    SetId without(SetId set, const std::set<int>& parts) const;
    std::vector<const std::vector<int>*> parts(const std::vector<SetId>& sets) const;   ///< that have a fault, by set
    std::vector<const std::vector<int>*> members(const std::vector<SetId>& sets) const; ///< numbers of their faults, in the same order
    Fault fault(int number) const;

    Prediction predict(const Query& query, const std::vector<Fault>& faults) const;
    /// Of a numbered set. A template, so that predict(query, {}) is the board without faults and not whatever has the number 0.
    template <std::same_as<SetId> Set>
    const Prediction& predict(const Query& query, Set set) const {
        return predict_set(query, set);
    }

    /// One query under many fault sets.
    std::vector<const Prediction*> predict_all(const Query& query, const std::vector<SetId>& sets) const;
    std::vector<const Prediction*> predict_all(const Query& query, const std::vector<std::vector<Fault>>& fault_sets) const;
    /// Numbers of the predictions that are remembered; -1 for the others. Nothing is computed.
    std::vector<int> remembered(const Query& query, const std::vector<SetId>& sets) const;

    /// What the unit does under power, whatever way the faults came about.
    Behaviour behaviour(SetId set) const;
    /// Volts and ripple that it shows there at full load.
    const Figures& figures(SetId set) const;
    std::vector<std::optional<Behaviour>> remembered_behaviour(const std::vector<SetId>& sets) const;

    const Board& board() const { return m_board; }
    const BoardRoles& roles() const { return *m_roles; }
    const std::vector<MeterProfile>& meters() const { return m_meters; }
    std::size_t solved() const; ///< how many predictions were really computed

private:
    const Prediction& predict_set(const Query& query, SetId set) const;
    struct StateData; // islands and solvers of one board state
    struct QueryData; // memo of one query
    StateData& state_data(const BoardState& state) const;
    QueryData& query_data(const Query& query) const;
    BoardState alone_state(int part) const;
    int place_of(QueryData& data, SetId set) const;
    const Prediction& computed(QueryData& data, SetId set) const;
    Prediction compute(const Query& query, StateData& state, const std::vector<Fault>& relevant, const ReadingHint* hint) const;

    Board m_board;
    std::shared_ptr<const BoardRoles> m_roles;
    std::vector<MeterProfile> m_meters;
    mutable std::mutex m_lock;
    mutable FaultSets m_sets;
    mutable std::vector<std::shared_ptr<StateData>> m_states;
    mutable std::map<std::array<int, 6>, std::shared_ptr<QueryData>> m_queries; ///< by what, leads, part alone, meter, state
    mutable std::size_t m_solved = 0;
    mutable BehaviourModel m_behaviour;                      ///< refers to m_board
    mutable std::vector<std::optional<Behaviour>> m_behaves; ///< by set
    mutable std::unique_ptr<FiguresModel> m_figures_model;   ///< made when first asked for; refers to m_board
    mutable std::map<SetId, Figures> m_figures;
};

} // namespace ohmo
