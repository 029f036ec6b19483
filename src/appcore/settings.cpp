// SPDX-License-Identifier: GPL-3.0-or-later
#include "appcore/settings.h"

#include <QStandardPaths>

namespace ohmo {
namespace {

const QString kJobs = QStringLiteral("jobs/recent"), kStations = QStringLiteral("jobs/recent-stations"); // one station a job, same order
constexpr qsizetype kMostRecent = 8;

} // namespace

QString Settings::default_file() {
    return QStandardPaths::writableLocation(QStandardPaths::GenericConfigLocation) + QStringLiteral("/ohmotrace/settings.ini");
}

void Settings::add_recent_job(const QString& path) {
    const QString station = station_of(path);
    QStringList list = recent_jobs(), stations = m_store.value(kStations).toStringList();
    stations.resize(list.size());
    if (const auto at = list.indexOf(path); at >= 0) {
        list.removeAt(at);
        stations.removeAt(at);
    }
    list.prepend(path);
    stations.prepend(station);
    m_store.setValue(kJobs, list.mid(0, kMostRecent));
    m_store.setValue(kStations, stations.mid(0, kMostRecent));
}

QString Settings::station_of(const QString& path) const {
    return m_store.value(kStations).toStringList().value(recent_jobs().indexOf(path));
}

void Settings::set_station_of(const QString& path, const QString& id) {
    const auto at = recent_jobs().indexOf(path);
    if (at < 0) return;
    QStringList stations = m_store.value(kStations).toStringList();
    stations.resize(recent_jobs().size());
    stations[at] = id;
    m_store.setValue(kStations, stations);
}

} // namespace ohmo
