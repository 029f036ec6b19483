// SPDX-License-Identifier: GPL-3.0-or-later
// The pipeline: job -> replay -> scenarios -> assessment -> next -> plan -> ladder. One immutable snapshot of each state of the job for
// window, command line and report.
//
// What is remembered between two answers is one BoardMemory. Key: the board, its meters and the history words, compared by value. Budget:
// one board at a time; predictions grow with what is asked (readings/predictor), what observations made of the hypotheses is dropped with
// its journal line (posterior/weighed). Lock: none, an analyst belongs to one thread; only the predictor is shared with answers and has its
// own.
#pragma once
#include "advice/next_reading.h"
#include "damage/enumerate.h"
#include "job/replay.h"
#include "posterior/assess.h"
#include "powerup/discharge.h"
#include "powerup/expectation.h"
#include "powerup/live_check.h"
#include "repair/plan.h"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ohmo {

/// A fuse that blew has a cause: as long as something else is bad, a new one only blows again.
struct FuseAdvice {
    int fuse = -1;
    std::vector<int> because; ///< parts believed bad, most suspect first
};

/// How a part stands, for tiles and lists.
enum class Standing {
    Unknown, ///< nothing said about it yet
    Good,    ///< looked at or read, and next to no suspicion left
    Suspect,
    Bad,
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
    LiveCheck live;                       ///< live readings against the step under way
    bool explained = false;               ///< one set of bad parts stands, or nothing measurable would tell more
    std::optional<FuseAdvice> fuse;       ///< why a new fuse must wait
    std::vector<Expectation> under_power; ///< of the first stories, as the board is now
    std::optional<Discharge> discharge;
};

/// What is kept of the board last asked for.
struct BoardMemory {
    Board board;
    std::vector<MeterProfile> meters;
    std::set<std::string> history;
    std::shared_ptr<const Predictor> predictor;
    std::optional<Hypotheses> hypotheses; ///< empty until the whole answer was asked for
    Weighed weighed;                      ///< what observations made of them
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
    std::optional<Problems> conclude(Analysis& out, const Hypotheses& hypotheses, const NextOptions& next, Weighed* weighed,
                                     const CancelToken& cancel) const;
    Result<Hypotheses> hypotheses(const Replay& now, const EnumerateOptions& options, const CancelToken& cancel) const;

    FaultLibrary m_library;
    std::vector<StockItem> m_stock;
    School m_school;
    BoardMemory m_memory;
};

} // namespace ohmo
