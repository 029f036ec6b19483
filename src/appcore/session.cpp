// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/session.h"

#include "appcore/background.h"
#include "job/board_files.h"
#include "job/photo_file.h"
#include "report/wording.h"

#include <nlohmann/json.hpp>

#include <algorithm>
#include <utility>

namespace ohmo {
namespace {

constexpr int kAutosaveMilliseconds = 1500;
constexpr Seconds kDemoAgeSeconds = 120; // of a demo's last entry
constexpr int kAskMilliseconds = 10;     // changes that come together are one question, and the screen is drawn before the work starts

// The recovery copy is the job itself with one key more.
constexpr const char* kBelongsTo = "recovered-from";

// Parts, nets and rails have the same numbers on both.
bool numbered_alike(const Board& a, const Board& b) {
    const auto alike = [](const Part& x, const Part& y) { return x.ref == y.ref && x.kind == y.kind && x.pins == y.pins; };
    const auto rail = [](const Rail& x, const Rail& y) { return x.net == y.net && x.ret == y.ret; };
    return a.nets == b.nets && std::equal(a.parts.begin(), a.parts.end(), b.parts.begin(), b.parts.end(), alike) &&
           std::equal(a.rails.begin(), a.rails.end(), b.rails.begin(), b.rails.end(), rail);
}

} // namespace

Session::Session(SessionPlaces places, JobReader reader, Analyst analyst, QObject* parent)
    : QObject(parent), m_places(std::move(places)), m_reader(std::move(reader)), m_runner(std::move(analyst)) {
    m_autosave.setSingleShot(true);
    m_autosave.setInterval(kAutosaveMilliseconds);
    connect(&m_autosave, &QTimer::timeout, this, &Session::autosave);
    m_ask.setSingleShot(true);
    m_ask.setInterval(kAskMilliseconds);
    connect(&m_ask, &QTimer::timeout, this, [this] { m_runner.request(m_job, m_school, m_asked); });
    connect(&m_runner, &JobRunner::finished, this, [this](int number, const AnalysisPtr& analysis) {
        if (number != m_asked) return;
        m_answered = number;
        m_analysis = analysis;
        Q_EMIT analysis_changed();
    });
    connect(&m_runner, &JobRunner::failed, this, [this](int number, const Problems& problems) {
        if (number == m_asked) Q_EMIT analysis_failed(problems);
    });
    show_job();
}

void Session::show_job() {
    m_replay = ohmo::replay(m_job);
    if (!m_bench_of || !(*m_bench_of == m_replay.board)) {
        m_bench = bench_context(m_replay, m_reader.vocabulary());
        m_bench_of = m_replay.board;
    }
    set_state(m_bench, m_replay);
}

Session::~Session() { QThreadPool::globalInstance()->waitForDone(); } // what runs there reads from the disk and the reader of this session

void Session::open(const Path& path) { load(path, false); }

void Session::open_dated_today(const Path& path) { load(path, true); }

void Session::take_up(const std::string& what, std::function<Result<Coming>()> read) {
    m_loading = true;
    in_background(this, std::move(read), [this, what, number = ++m_load](const Result<Coming>& coming) {
        if (number != m_load) return;
        m_loading = false;
        if (!coming) {
            Q_EMIT refused(QString::fromStdString(what), coming.problems());
            return;
        }
        if (m_recovery_is_mine) forget_recovery(); // of the job that goes
        m_analysis.reset();
        adopt(coming->job, coming->path, coming->path.empty());
        Q_EMIT opened();
        if (coming->left_out) Q_EMIT imported(*coming->left_out);
    });
}

void Session::load(const Path& path, bool dated_today) {
    if (!importable(path))
        return take_up(path.string(), [this, path, dated_today]() -> Result<Coming> {
            const auto loaded = m_reader.load(m_places.disk, path);
            if (!loaded) return loaded.problems();
            return Coming{dated_today ? redated(loaded->job, now() - kDemoAgeSeconds) : loaded->job, path, {}};
        });
    take_up(path.string(), [this, path]() -> Result<Coming> {
        const auto text = m_places.disk.read(path, kLargestFile);
        if (!text) return text.problems();
        const auto made = import_board(path, *text);
        if (!made) return made.problems();
        QStringList left_out;
        for (const auto& line : made->ignored) left_out << QString::fromStdString(wording::ignored(line));
        for (const auto& warning : made->warnings) left_out << QString::fromStdString(wording::problem(warning));
        return Coming{job_of_board(made->board), {}, left_out};
    });
}

namespace {

Job fresh(const Job& made, const Unit& unit, const std::optional<MeterProfile>& meter) {
    const Job named = made.with_unit(unit);
    return meter ? named.with_meter(*meter) : named;
}

} // namespace

void Session::start_from_blueprint(const Path& blueprint, const Unit& unit, const std::optional<MeterProfile>& meter) {
    take_up(blueprint.filename().string(), [this, blueprint, unit, meter]() -> Result<Coming> {
        const auto made = m_reader.from_blueprint(m_places.disk, blueprint);
        if (!made) return made.problems();
        return Coming{fresh(*made, unit, meter), {}, {}};
    });
}

void Session::start_from_supply(const Supply& supply, const Unit& unit, const std::optional<MeterProfile>& meter) {
    take_up(supply.family, [this, supply, unit, meter]() -> Result<Coming> {
        const auto made = m_reader.design(supply);
        if (!made) return made.problems();
        return Coming{fresh(made->job, unit, meter), {}, {}};
    });
}

void Session::read_blueprints(QObject* context, std::function<void(std::vector<Blueprint>)> done) const {
    const auto read = [this] {
        std::vector<Blueprint> out;
        for (const auto name : blueprint_names())
            if (auto one = read_blueprint(m_reader, m_places.disk, blueprint_path(m_places.data, name))) out.push_back(std::move(*one));
        return out;
    };
    in_background(context, read, std::move(done));
}

void Session::read_progress(const std::vector<Path>& jobs, QObject* context,
                            std::function<void(std::vector<std::optional<JobProgress>>)> done) const {
    const auto read = [this, jobs] {
        std::vector<std::optional<JobProgress>> out;
        for (const auto& path : jobs) {
            const auto loaded = m_reader.load(m_places.disk, path);
            out.push_back(loaded ? std::optional(job_progress(loaded->job, ohmo::replay(loaded->job))) : std::nullopt);
        }
        return out;
    };
    in_background(context, read, std::move(done));
}

void Session::read_other(const Path& path, QObject* context, std::function<void(const Result<Replay>&)> done) const {
    const auto read = [this, path]() -> Result<Replay> {
        const auto loaded = m_reader.load(m_places.disk, path);
        if (!loaded) return loaded.problems();
        return ohmo::replay(loaded->job);
    };
    in_background(context, read, std::move(done));
}

std::optional<Problems> Session::save(const Path& path) {
    if (!m_path.empty() && path.parent_path() != m_path.parent_path()) // photos go along
        for (const auto& file : m_replay.pictures()) {
            const auto picture = m_places.disk.read(photo_path(m_path, file), kLargestPhoto);
            if (!picture) continue; // it is missing there too
            if (const auto copied = m_places.disk.write(photo_path(path, file), *picture); !copied) return copied.problems();
        }
    const auto saved = save_job(m_places.disk, path, m_job);
    if (!saved) return saved.problems();
    m_path = path;
    m_modified = false;
    forget_recovery();
    Q_EMIT path_changed();
    return std::nullopt;
}

void Session::adopt(const Job& job, const Path& path, bool modified) {
    m_path = path;
    m_open = true;
    m_job = job;
    m_modified = modified;
    refresh();
    Q_EMIT path_changed();
}

void Session::set_job(const Job& job) {
    m_job = job;
    m_modified = true;
    m_open = true;
    refresh();
    m_autosave.start();
}

Job Session::with(Entry entry) const {
    entry.at = m_places.clock.now();
    return m_job.with(entry);
}

void Session::set_school(const School& school) {
    m_school = school;
    ask();
}

void Session::refresh() {
    show_job();
    const bool other = m_analysis && !numbered_alike(m_analysis->replay.board, m_replay.board);
    if (other) m_analysis.reset(); // its numbers would be those of other parts
    ask();
    Q_EMIT job_changed();
    if (other) Q_EMIT analysis_changed();
}

void Session::ask() {
    ++m_asked;
    m_runner.cancel();                                          // what is under way answers an older question
    QTimer::singleShot(0, &m_ask, qOverload<>(&QTimer::start)); // counted from the event loop, so that a first screen comes first
}

// Written off the interface thread. A copy of an earlier session that nobody has answered for yet is kept beside it.
void Session::autosave() {
    if (m_places.recovery.empty() || !m_modified) return;
    const bool foreign = !std::exchange(m_recovery_is_mine, true);
    const auto write = [&disk = m_places.disk, to = m_places.recovery, job = m_job, belongs = m_path, foreign] {
        auto json = nlohmann::ordered_json::parse(job.text(), nullptr, false);
        if (json.is_discarded()) return false;
        if (foreign && disk.exists(to))
            if (const auto old = disk.read(to, kLargestFile)) (void)disk.write(to.string() + ".older", *old);
        json[kBelongsTo] = belongs.string();
        return static_cast<bool>(disk.write(to, json.dump()));
    };
    in_background(this, write, [this](bool) {
        if (!m_recovery_is_mine) m_places.disk.remove(m_places.recovery); // saved or left while it was being written
    });
}

std::optional<Session::Recovery> Session::recovery() const {
    if (m_places.recovery.empty() || !m_places.disk.exists(m_places.recovery)) return std::nullopt;
    const auto text = m_places.disk.read(m_places.recovery, kLargestFile);
    if (!text) return std::nullopt;
    auto json = nlohmann::ordered_json::parse(*text, nullptr, false);
    if (json.is_discarded() || !json.is_object()) return std::nullopt;
    const auto name = json.find(kBelongsTo);
    const Path belongs = name != json.end() && name->is_string() ? name->get<std::string>() : std::string();
    json.erase(kBelongsTo);
    auto loaded = m_reader.parse(json.dump());
    if (!loaded) return std::nullopt;
    return Recovery{loaded->job, belongs};
}

void Session::restore(const Recovery& recovery) {
    m_analysis.reset();
    m_recovery_is_mine = true; // it is this job's copy from now on
    adopt(recovery.job, recovery.belongs_to, true);
    m_autosave.start();
}

void Session::forget_recovery() {
    m_autosave.stop();
    m_recovery_is_mine = false;
    if (!m_places.recovery.empty()) m_places.disk.remove(m_places.recovery);
}

} // namespace ohmo
