// SPDX-License-Identifier: GPL-3.0-or-later
// The open job: its value, its file, what is computed from it, and the copy kept for recovery.
#pragma once
#include "appcore/job_runner.h"
#include "base/clock.h"
#include "base/disk.h"
#include "job/bench_line.h"
#include "job/blueprints.h"
#include "report/job_progress.h"

#include <QObject>
#include <QString>
#include <QTimer>

#include <functional>
#include <optional>
#include <vector>

namespace ohmo {

/// Where files and time come from, and where the recovery copy goes.
struct SessionPlaces {
    const Disk& disk;
    const Clock& clock;
    Path data;
    Path recovery; ///< one file; empty: no autosave
};

class Session : public QObject {
    Q_OBJECT
public:
    Session(SessionPlaces places, JobReader reader, Analyst analyst, QObject* parent = nullptr);
    ~Session() override;

    const Job& job() const { return m_job; }
    const Replay& replay() const { return m_replay; }          ///< always of the present job
    const AnalysisPtr& analysis() const { return m_analysis; } ///< of this or an earlier state of this board; null before its first answer
    bool up_to_date() const { return !m_loading && m_analysis && m_answered == m_asked; }
    const BenchContext& bench() const { return m_bench; }
    const Vocabulary& vocabulary() const { return m_reader.vocabulary(); }
    const School& school() const { return m_school; }
    const Path& path() const { return m_path; }
    const Path& data() const { return m_places.data; }
    const Disk& disk() const { return m_places.disk; }
    Seconds now() const { return m_places.clock.now(); }
    bool modified() const { return m_modified; }
    bool has_job() const { return m_open; }

    /// A job, or a netlist or parts list that becomes a fresh one. Reads and validates off the interface thread; `opened` or `refused`
    /// follows, and until then the present job stays. A later call overtakes an earlier one.
    void open(const Path& path);
    /// The same with every entry moved in time, so that the last one was made a few minutes ago: a demo is of today.
    void open_dated_today(const Path& path);
    /// A fresh job of this blueprint, with this bench's meter; `opened` or `refused` follows.
    void start_from_blueprint(const Path& blueprint, const Unit& unit, const std::optional<MeterProfile>& meter = {});
    /// The same on a board designed for what one sees.
    void start_from_supply(const Supply& supply, const Unit& unit, const std::optional<MeterProfile>& meter = {});
    bool loading() const { return m_loading; }

    /// The families to choose from, read off the interface thread; those that cannot be read are left out. `done` runs on this thread,
    /// unless `context` is gone by then.
    void read_blueprints(QObject* context, std::function<void(std::vector<Blueprint>)> done) const;

    /// How far these jobs are, read off the interface thread; nothing for those that cannot be read. `done` as above.
    void read_progress(const std::vector<Path>& jobs, QObject* context,
                       std::function<void(std::vector<std::optional<JobProgress>>)> done) const;

    /// Another job, as it stands, read off the interface thread. `done` as above. Errors: as JobReader::load.
    void read_other(const Path& path, QObject* context, std::function<void(const Result<Replay>&)> done) const;

    std::optional<Problems> save(const Path& path);

    /// Replaces the job's value (an entry more, an undo). The file is not touched.
    void set_job(const Job& job);
    /// The job with this entry at the present time.
    Job with(Entry entry) const;
    void set_school(const School& school);

    /// A copy left behind by a session that ended without saving, with the file it belonged to.
    struct Recovery {
        Job job;
        Path belongs_to;
    };
    std::optional<Recovery> recovery() const;
    void restore(const Recovery& recovery);
    /// Removes the copy, whoever wrote it.
    void forget_recovery();

Q_SIGNALS:
    void job_changed();      ///< job() and replay() are new
    void analysis_changed(); ///< analysis() is new
    void analysis_failed(const ohmo::Problems& problems);
    void path_changed();
    void opened();
    void imported(const QStringList& left_out);                        ///< after `opened`: lines that became no part
    void refused(const QString& what, const ohmo::Problems& problems); ///< what could not be opened

private:
    /// A job that is to take the place of the present one.
    struct Coming {
        Job job;
        Path path; ///< empty: nowhere yet, and so unsaved
        std::optional<QStringList> left_out;
    };
    void load(const Path& path, bool dated_today);
    void take_up(const std::string& what, std::function<Result<Coming>()> read);
    void adopt(const Job& job, const Path& path, bool modified);
    void refresh();
    void show_job();
    void ask();
    void autosave();

    SessionPlaces m_places;
    JobReader m_reader;
    JobRunner m_runner;
    Job m_job;
    Replay m_replay;
    BenchContext m_bench;
    std::optional<Board> m_bench_of; ///< the board it was made for: finding what hangs together needs a factoring
    AnalysisPtr m_analysis;
    School m_school;
    Path m_path;
    bool m_modified = false, m_open = false, m_loading = false;
    bool m_recovery_is_mine = false; ///< the copy on the disk is of this session, not one that still waits to be offered
    int m_load = 0, m_asked = 0, m_answered = 0;
    QTimer m_autosave, m_ask;
};

} // namespace ohmo
