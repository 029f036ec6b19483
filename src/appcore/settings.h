// SPDX-License-Identifier: GPL-3.0-or-later
// Every setting declared once: key, default. Kept in one file per user.
#pragma once
#include <QByteArray>
#include <QSettings>
#include <QString>
#include <QStringList>

namespace ohmo {

class Settings {
public:
    /// `file`: where they are kept; tests give a temporary one.
    explicit Settings(const QString& file) : m_store(file, QSettings::IniFormat) {}

    static QString default_file();

    QString theme() const { return m_store.value(QStringLiteral("look/theme"), QStringLiteral("light")).toString(); }
    void set_theme(const QString& name) { m_store.setValue(QStringLiteral("look/theme"), name); }

    int text_percent() const { return m_store.value(QStringLiteral("look/text-percent"), 100).toInt(); }
    void set_text_percent(int percent) { m_store.setValue(QStringLiteral("look/text-percent"), percent); }

    QByteArray window() const { return m_store.value(QStringLiteral("window/geometry")).toByteArray(); }
    void set_window(const QByteArray& geometry) { m_store.setValue(QStringLiteral("window/geometry"), geometry); }

    QString station() const { return m_store.value(QStringLiteral("window/station"), QStringLiteral("take-in")).toString(); }
    void set_station(const QString& id) { m_store.setValue(QStringLiteral("window/station"), id); }

    /// The meter of this bench as JSON, empty while none was taught: new jobs take it along.
    QString usual_meter() const { return m_store.value(QStringLiteral("bench/meter")).toString(); }
    void set_usual_meter(const QString& json) { m_store.setValue(QStringLiteral("bench/meter"), json); }

    QStringList recent_jobs() const { return m_store.value(QStringLiteral("jobs/recent")).toStringList(); }
    void add_recent_job(const QString& path);
    /// The station that was on screen when this job was last open; empty where it is not known.
    QString station_of(const QString& path) const;
    void set_station_of(const QString& path, const QString& id);

    bool voice() const { return m_store.value(QStringLiteral("look/voice"), false).toBool(); }
    void set_voice(bool on) { m_store.setValue(QStringLiteral("look/voice"), on); }

private:
    QSettings m_store;
};

} // namespace ohmo
