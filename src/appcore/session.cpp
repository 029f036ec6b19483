// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/session.h"

#include <nlohmann/json.hpp>

namespace ohmo {
namespace {

constexpr int kAutosaveMilliseconds = 1500;
constexpr int kAskMilliseconds = 10; // changes that come together are one question, and the screen is drawn before the work starts

// The recovery copy is the job itself with one key more.
constexpr const char* kBelongsTo = "recovered-from";

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
    m_replay = ohmo::replay(m_job);
    m_bench = bench_context(m_replay, m_reader.vocabulary());
}

std::optional<Problems> Session::open(const Path& path) {
    auto loaded = m_reader.load(m_places.disk, path);
    if (!loaded) return loaded.problems();
    m_analysis.reset();
    adopt(loaded->job, path, false);
    return std::nullopt;
}

Result<Blueprint> Session::blueprint(std::string_view name) const {
    return read_blueprint(m_reader, m_places.disk, blueprint_path(m_places.data, name));
}

std::optional<Problems> Session::start_from_blueprint(const Path& blueprint, const Unit& unit) {
    auto made = m_reader.from_blueprint(m_places.disk, blueprint);
    if (!made) return made.problems();
    m_analysis.reset();
    adopt(made->with_unit(unit), {}, true);
    return std::nullopt;
}

std::optional<Problems> Session::save(const Path& path) {
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
    m_replay = ohmo::replay(m_job);
    m_bench = bench_context(m_replay, m_reader.vocabulary());
    ask();
    Q_EMIT job_changed();
}

void Session::ask() {
    ++m_asked;
    m_runner.cancel();                                          // what is under way answers an older question
    QTimer::singleShot(0, &m_ask, qOverload<>(&QTimer::start)); // counted from the event loop, so that a first screen comes first
}

void Session::autosave() {
    if (m_places.recovery.empty() || !m_modified) return;
    auto json = nlohmann::ordered_json::parse(m_job.text(), nullptr, false);
    if (json.is_discarded()) return;
    json[kBelongsTo] = m_path.string();
    (void)m_places.disk.write(m_places.recovery, json.dump());
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
    adopt(recovery.job, recovery.belongs_to, true);
    m_autosave.start();
}

void Session::forget_recovery() {
    m_autosave.stop();
    if (!m_places.recovery.empty()) m_places.disk.remove(m_places.recovery);
}

} // namespace ohmo
