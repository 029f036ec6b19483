// SPDX-License-Identifier: GPL-3.0-or-later
// The pipeline: job -> replay -> scenarios -> assessment -> next -> plan -> ladder. One immutable snapshot of each state of the job for
// window, command line and report.
//
// What is remembered between two answers is one BoardMemory. Key: the board, its meters and the history words, compared by value. Budget:
// one board at a time; what parts alone say is kept as long as the board. Lock: none, an analyst belongs to one thread; only the predictor
// is shared with answers and has its own. Answers do not depend on what is remembered.
#pragma once
#include "advice/next_reading.h"
#include "job/look_round.h"
#include "job/replay.h"
#include "job/work_checks.h"
#include "posterior/assess.h"
#include "posterior/triage.h"
#include "powerup/discharge.h"
#include "powerup/expectation.h"
#include "powerup/live_check.h"
#include "powerup/store_paths.h"
#include "readings/predictor.h"
#include "readings/quantities.h"
#include "repair/drawer_discharge.h"
#include "repair/plan.h"

#include <memory>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace ohmo {
namespace belief {
struct Memory;
}

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
    std::vector<Standing> standing; ///< by part
    Job job;
    Replay replay;
    std::shared_ptr<const Predictor> predictor;
    Assessment assessment;
    Triage triage;
    NextAdvice next;
    std::vector<NextAct> live_next; ///< volts to read while the unit is on its full supply and the locks are open, best first
    Plan plan;
    Ladder ladder;
    LiveCheck live;                       ///< live readings against the step under way
    bool explained = false;               ///< one set of bad parts stands, or nothing measurable would tell more
    std::vector<WorkCheck> work;          ///< what proves the parts that were put in
    std::optional<FuseAdvice> fuse;       ///< why a new fuse must wait
    std::vector<Expectation> under_power; ///< of the first stories, as the board is now
    std::optional<Discharge> discharge;
    std::vector<StorePath> stores;            ///< capacitors that can hurt
    std::shared_ptr<const LooksByKind> looks; ///< worth telling
    std::optional<DrawerDischarge> drawer;    ///< what the drawer has to do that with
};

/// What is kept of the board last asked for.
struct BoardMemory {
    Board board;
    std::vector<MeterProfile> meters;
    std::set<std::string> history;
    std::shared_ptr<const Predictor> predictor;
    std::shared_ptr<belief::Memory> belief;
    WorkMemory work{};
    std::vector<StorePath> stores{};
    std::optional<Discharge> discharge{}; ///< before anything was read
};

/// Computes analyses and remembers what was computed for the last board between calls. One per thread.
class Analyst {
public:
    Analyst(FaultLibrary library, std::vector<StockItem> stock)
        : m_library(std::move(library)), m_looks(std::make_shared<const LooksByKind>(looks_by_kind(m_library))), m_stock(std::move(stock)) {
    }

    /// With the shipped fault library and parts drawer. Errors as the loaders'.
    static Result<Analyst> make(const Disk& disk, const Path& data);

    void set_stock(std::vector<StockItem> stock) { m_stock = std::move(stock); }
    void set_school(const School& school) { m_school = school; }
    const School& school() const { return m_school; }
    const FaultLibrary& library() const { return m_library; }

    /// Errors: Cancelled.
    Result<std::shared_ptr<const Analysis>> analyse(const Job& job, const CancelToken& cancel);

private:
    std::shared_ptr<Analysis> begin(const Job& job);
    std::optional<Problems> conclude(Analysis& out, const CancelToken& cancel);

    FaultLibrary m_library;
    std::shared_ptr<const LooksByKind> m_looks;
    std::vector<StockItem> m_stock;
    School m_school;
    BoardMemory m_memory;
};

} // namespace ohmo
