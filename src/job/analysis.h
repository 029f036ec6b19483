// SPDX-License-Identifier: GPL-3.0-or-later
// The pipeline: job -> replay -> scenarios -> assessment -> next -> plan -> ladder. One immutable answer for window, command line and
// report.
#pragma once
#include "advice/next_reading.h"
#include "damage/enumerate.h"
#include "job/replay.h"
#include "posterior/assess.h"
#include "powerup/discharge.h"
#include "powerup/expectation.h"
#include "powerup/ladder.h"
#include "repair/plan.h"

#include <memory>
#include <optional>

namespace ohmo {

/// How a part stands, for tiles and lists.
enum class Standing {
    Unknown, ///< nothing said about it yet
    Good,    ///< looked at or read, and next to no suspicion left
    Suspect, ///< one chance in ten or more
    Bad,     ///< nine in ten or more
    Renewed, ///< replaced since
};

struct Analysis {
    bool first_look = false;        ///< from the likeliest scenarios only; the whole answer follows
    std::vector<Standing> standing; ///< by part
    Job job;
    Replay replay;
    std::shared_ptr<const Predictor> predictor;
    Assessment assessment;
    NextAdvice next;
    Plan plan;
    Ladder ladder;
    std::vector<Expectation> under_power; ///< of the first stories, as the board is now
    std::optional<Discharge> discharge;
};

/// Computes analyses and remembers scenarios and predictions of the last board between calls. One per thread.
class Analyst {
public:
    Analyst(FaultLibrary library, std::vector<StockItem> stock) : m_library(std::move(library)), m_stock(std::move(stock)) {}

    /// With the shipped fault library and parts drawer. Errors as the loaders'.
    static Result<Analyst> make(const Disk& disk, const Path& data);

    void set_stock(std::vector<StockItem> stock) { m_stock = std::move(stock); }
    void set_school(const School& school) { m_school = school; }
    const School& school() const { return m_school; }
    const FaultLibrary& library() const { return m_library; }

    /// Errors: Cancelled.
    Result<std::shared_ptr<const Analysis>> analyse(const Job& job, const CancelToken& cancel);

    /// A quick answer for a board or history that is new to this analyst; empty when the whole answer will not keep anyone waiting.
    /// Errors: Cancelled.
    Result<std::shared_ptr<const Analysis>> first_look(const Job& job, const CancelToken& cancel);

    /// Works out ahead what the next answers are likely to need. Errors: Cancelled.
    Result<bool> prepare(const Analysis& last, const CancelToken& cancel) const;

private:
    std::shared_ptr<Analysis> begin(const Job& job);
    std::optional<Problems> conclude(Analysis& out, const Hypotheses& hypotheses, const NextOptions& next, const CancelToken& cancel) const;
    Result<Hypotheses> hypotheses(const Replay& now, const EnumerateOptions& options, const CancelToken& cancel) const;

    FaultLibrary m_library;
    std::vector<StockItem> m_stock;
    School m_school;
    std::string m_board_key, m_history_key; // what the remembered values belong to
    std::shared_ptr<const Predictor> m_predictor;
    std::optional<Hypotheses> m_hypotheses;
};

} // namespace ohmo
