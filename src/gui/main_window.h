// SPDX-License-Identifier: GPL-3.0-or-later
// Puts the frame together; every part of it does its own work.
#pragma once
#include "appcore/session.h"
#include "appcore/settings.h"
#include "gui/logbook.h"
#include "gui/selection.h"
#include "gui/stations/station.h"
#include "gui/theme/theme.h"

#include <QMainWindow>

#include <map>

class QStackedWidget;

namespace ohmo {

class BenchLineBar;
class Card;
class JobRail;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    /// `station`: shown first; empty: the one remembered. Stations are built when first shown, so this one alone costs start-up time.
    MainWindow(Session& session, Settings& settings, ThemeSource& theme, const QString& station = {});
    ~MainWindow() override;

    void go_to(const QString& station);
    QString station() const { return m_station; }
    /// Opens a job; its problems stand in a banner and the present job stays.
    bool open_job(const QString& path);
    bool save_job_to(const QString& path);
    void new_from_blueprint(const QString& path);
    void offer_recovery();
    void select_part(const QString& ref);

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    void make_actions();
    void make_banner(class QVBoxLayout* column);
    void show_problems(const QString& title, const Problems& problems);
    void show_recent();
    bool save();
    bool save_as();
    bool settle_changes(); ///< false: the user wants to stay
    void find_part();
    void retitle();

    Session& m_session;
    Settings& m_settings;
    ThemeSource& m_theme;
    Logbook m_logbook;
    Selection m_selection;
    Collaborators m_with;
    JobRail* m_rail = nullptr;
    BenchLineBar* m_bench = nullptr;
    QStackedWidget* m_stack = nullptr;
    std::map<QString, QWidget*> m_pages;
    QString m_station;
    Card* m_banner = nullptr;
    class QHBoxLayout* m_banner_buttons = nullptr;
    class QMenu* m_recent = nullptr;
    std::vector<std::pair<QString, class QAction*>> m_actions;
};

} // namespace ohmo
