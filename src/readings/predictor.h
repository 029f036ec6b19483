// SPDX-License-Identifier: GPL-3.0-or-later
// What each fault set makes each reading be: the prediction table of one board with its meters.
// Memory: one `Memory`, keyed by query (quantity, leads, part alone, meter, board state) and by the faults that can matter for it; no
// budget of its own, some 300 bytes a prediction (the callers stop asking ahead at 400,000); one lock, held for the length of a call.
// Results do not depend on what is remembered.
#pragma once
#include "circuit/meter.h"
#include "damage/behaviour.h"
#include "damage/figures.h"
#include "readings/evidence.h"
#include "readings/fault_sets.h"
#include "readings/reading_model.h"

#include <concepts>
#include <memory>
#include <mutex>
#include <optional>
#include <vector>

namespace ohmo {

/// One board's predictions. Thread safe; results do not depend on the order of calls. Predictions live as long as the predictor.
class Predictor {
public:
    /// `roles` of this board; found here where none are given.
    Predictor(const Board& board, std::vector<MeterProfile> meters, std::shared_ptr<const BoardRoles> roles = nullptr);
    ~Predictor();
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
    struct Memory;
    StateData& state_data(const BoardState& state) const;
    QueryData& query_data(const Query& query) const;
    BoardState alone_state(int part) const;
    int slot_of(QueryData& data, SetId set) const;
    const Prediction& computed(QueryData& data, SetId set) const;
    Prediction compute(const Query& query, StateData& state, const std::vector<Fault>& relevant, const ReadingHint* hint) const;

    Board m_board;
    std::shared_ptr<const BoardRoles> m_roles;
    std::vector<MeterProfile> m_meters;
    mutable std::mutex m_lock;        ///< guards the memory
    std::unique_ptr<Memory> m_memory; ///< what was solved; grows with what is asked, nothing is ever dropped: it goes with the predictor
};

} // namespace ohmo
