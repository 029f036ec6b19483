// SPDX-License-Identifier: GPL-3.0-or-later
// Puts the frame together; every part of it does its own work.
#pragma once
#include "appcore/session.h"
#include "appcore/settings.h"
#include "gui/actions.h"
#include "gui/logbook.h"
#include "gui/selection.h"
#include "gui/stations/station.h"
#include "gui/theme/theme.h"
#include "gui/voice.h"

#include <QMainWindow>

#include <functional>
#include <map>
#include <vector>

class QAction;
class QHBoxLayout;
class QMenu;
class QStackedWidget;

namespace ohmo {

class BenchLineBar;
class Card;
class Glance;
class JobRail;
class StartPage;

class MainWindow : public QMainWindow {
    Q_OBJECT
public:
    /// `station`: shown first; empty: the one remembered. Stations are built when first shown, so this one alone costs start-up time.
    /// `choose_file`: how files are named; the usual dialogs where none is given.
    /// `speaker`: who speaks where the voice is on; the desktop's where none is given.
    MainWindow(Session& session, Settings& settings, ThemeSource& theme, const QString& station = {}, ChooseFile choose_file = {},
               std::unique_ptr<Speaker> speaker = nullptr);
    ~MainWindow() override;

    void go_to(const QString& station);
    QString station() const { return m_station; }
    /// Opens a job off the interface thread; its problems stand in a banner and the present job stays.
    void open_job(const QString& path);
    bool save_job_to(const QString& path);
    void new_from_blueprint(const QString& path);
    void offer_recovery();
    void select_part(const QString& ref);

protected:
    void closeEvent(QCloseEvent* event) override;

private:
    using Then = std::function<void()>;
    struct BannerButton {
        QString text;
        const char *name, *kind;
        Then run; ///< after the banner has gone
    };
    void make_frame();
    void make_actions();
    std::map<QString, Then> handlers();
    QAction* make_action(const ActionInfo& info);
    void show_banner(const char* look, const QString& title, const QString& text, std::vector<BannerButton> buttons);
    void hide_banner();
    void show_left_out(const QStringList& lines); ///< of an imported board
    void show_problems(const QString& title, const Problems& problems);
    void show_recent();
    void show_opened();
    void show_actions();
    void scale_text(int by);
    void suggest(const std::function<void()>& what);
    std::optional<MeterProfile> usual_meter() const;
    void pick_blueprint();
    void teach_meter();
    void ask_for_job();
    void save(const Then& then);
    void save_as(const Then& then);
    void settle_changes(const Then& then); ///< goes on at once, or when the user has said what becomes of the new entries
    void find_part();
    void retitle();
    void show_start();
    template <class Dialog>
    void open_over() { ///< a dialog over the window, gone when it is closed
        if (!m_session.has_job()) return;
        auto* dialog = new Dialog(m_with, this);
        dialog->setAttribute(Qt::WA_DeleteOnClose);
        dialog->show();
    }
    void show_photo();
    void show_glance();
    void turn_voice(bool on);
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;
    void place_banner();

    Session& m_session;
    Settings& m_settings;
    ThemeSource& m_theme;
    Logbook m_logbook;
    Selection m_selection;
    Suggestions m_suggestions;
    Collaborators m_with;
    JobRail* m_rail = nullptr;
    BenchLineBar* m_bench = nullptr;
    QStackedWidget* m_stack = nullptr;
    std::map<QString, QWidget*> m_pages;
    StartPage* m_start = nullptr;
    Glance* m_glance = nullptr;
    Voice* m_voice = nullptr;
    QString m_station;
    Card* m_banner = nullptr;
    QHBoxLayout* m_banner_buttons = nullptr;
    QMenu* m_recent = nullptr;
    std::map<QString, QAction*> m_actions;
    bool m_station_given = false; ///< on the command line: the next job opens there
    bool m_leaving = false;       ///< the user has said what becomes of the new entries
};

} // namespace ohmo
