// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/settings.h"
#include "gui/stations/station.h"

#include <QVBoxLayout>
#include <QWidget>

namespace ohmo {

class JobTile;

/// What stands on the screen while no job is open: begin, go on with a recent one, look at the demo, and how it works in half a page.
class StartPage : public QWidget {
    Q_OBJECT
public:
    StartPage(const Collaborators& with, const Settings& settings, QWidget* parent = nullptr);
    void refresh(); ///< the recent jobs

Q_SIGNALS:
    void new_job();
    void open_job();
    void open_path(const QString& path);
    void open_demo();

private:
    void show_progress(JobTile& tile, const QString& path, const std::optional<JobProgress>& found) const;

    Collaborators m_with;
    const Settings& m_settings;
    QVBoxLayout* m_recent;
};

} // namespace ohmo
