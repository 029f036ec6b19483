// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/main_window.h"

#include "gui/action_list.h"
#include "gui/board_export.h"
#include "gui/glance.h"
#include "gui/start_page.h"
#include "gui/text.h"
#include "gui/widgets/apart_dialog.h"
#include "gui/widgets/bench_line_bar.h"
#include "gui/widgets/blueprint_picker.h"
#include "gui/widgets/board_pane.h"
#include "gui/widgets/hunt_dialog.h"
#include "gui/widgets/job_rail.h"
#include "gui/widgets/look_round.h"
#include "gui/widgets/meter_in_hand.h"
#include "gui/widgets/meter_teacher.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/part_sheet_dialog.h"
#include "gui/widgets/rails_round.h"
#include "gui/widgets/twin_dialog.h"
#include "gui/widgets/unit_strip.h"
#include "job/meters_file.h"
#include "report/wording.h"

#include <QAction>
#include <QCloseEvent>
#include <QFileDialog>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QPushButton>
#include <QScreen>
#include <QStackedWidget>
#include <QTimer>

#include <algorithm>
#include <utility>

namespace ohmo {

namespace {

constexpr std::size_t kProblemsShown = 6;

// With a window manager's frame round it, all of it on the screen.
QSize room_for_window() {
    const QSize wanted(1280, 800), frame(4, 36);
    if (QGuiApplication::platformName() == QStringLiteral("offscreen")) return wanted;
    const auto* screen = QGuiApplication::primaryScreen();
    return screen == nullptr ? wanted : wanted.boundedTo(screen->availableSize() - frame);
}

void ask_for_file(QWidget* window, const FileQuestion& question, std::function<void(const QString&)> then) {
    auto* dialog = new QFileDialog(window, question.title, question.suggested, question.filter);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    dialog->setAcceptMode(question.save ? QFileDialog::AcceptSave : QFileDialog::AcceptOpen);
    dialog->setFileMode(question.save ? QFileDialog::AnyFile : QFileDialog::ExistingFile);
    if (question.save && !question.suggested.isEmpty()) dialog->selectFile(question.suggested);
    QObject::connect(dialog, &QFileDialog::fileSelected, window, [then = std::move(then)](const QString& file) { then(file); });
    dialog->open();
}

// Goes with Escape, or when something else takes the keys.
class FindField : public QLineEdit {
public:
    explicit FindField(QWidget* parent) : QLineEdit(parent) {
        setObjectName(QStringLiteral("find-ref"));
        setAccessibleName(MainWindow::tr("Find a part by ref"));
        setPlaceholderText(MainWindow::tr("ref, such as C5"));
    }

protected:
    void keyPressEvent(QKeyEvent* event) override {
        if (event->key() == Qt::Key_Escape) return deleteLater();
        QLineEdit::keyPressEvent(event);
    }
    void focusOutEvent(QFocusEvent* event) override {
        QLineEdit::focusOutEvent(event);
        deleteLater();
    }
};

} // namespace

MainWindow::MainWindow(Session& session, Settings& settings, ThemeSource& theme, const QString& station, ChooseFile choose_file,
                       std::unique_ptr<Speaker> speaker)
    : m_session(session), m_settings(settings), m_theme(theme),
      m_logbook(session), m_with{session,
                                 m_logbook,
                                 m_selection,
                                 theme,
                                 [this](const QString& text) { m_bench->write(text); },
                                 [this](const QString& id) { go_to(id); },
                                 m_suggestions,
                                 choose_file ? std::move(choose_file) : ChooseFile(ask_for_file),
                                 [&settings] { return settings.recent_jobs(); }} {
    setObjectName(QStringLiteral("main-window"));
    m_voice = new Voice(session, speaker ? std::move(speaker) : system_speaker(), this);
    make_frame();
    make_actions();
    connect(m_rail, &JobRail::chosen, this, &MainWindow::go_to);
    connect(&session, &Session::path_changed, this, &MainWindow::retitle);
    connect(&session, &Session::job_changed, this, &MainWindow::retitle);
    connect(&session, &Session::opened, this, &MainWindow::show_opened);
    connect(&session, &Session::refused, this, [this](const QString& what, const Problems& problems) {
        show_problems(m_session.has_job() ? tr("%1 was not opened; the job on screen is untouched").arg(what)
                                          : tr("%1 was not opened").arg(what),
                      problems);
    });
    connect(&session, &Session::imported, this, &MainWindow::show_left_out);
    connect(&session, &Session::job_changed, this, [this] { // parts come and go while a board is traced
        if (m_selection.part() >= static_cast<int>(m_session.replay().board.parts.size())) m_selection.select(-1);
    });
    connect(&session, &Session::analysis_failed, this,
            [this](const Problems& p) { show_problems(tr("The job could not be worked out"), p); });
    setMinimumSize(1000, 640);
    resize(room_for_window());
    if (!settings.window().isEmpty()) restoreGeometry(settings.window());
    m_station_given = !station.isEmpty();
    go_to(m_station_given ? station : settings.station());
    if (!session.has_job() && !m_station_given) show_start();
    if (settings.voice()) QTimer::singleShot(0, this, [this] { turn_voice(true); }); // once the window stands
    retitle();
    m_bench->focus_line();
}

MainWindow::~MainWindow() = default;

void MainWindow::make_frame() {
    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    m_rail = new JobRail(m_session, m_theme);
    row->addWidget(m_rail);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    column->addWidget(new UnitStrip(m_session, m_theme));
    m_stack = new QStackedWidget;
    column->addWidget(m_stack, 1);
    m_banner = new Card({}, "stop", m_stack); // over the station, which keeps its room
    m_banner->setObjectName(QStringLiteral("banner"));
    m_banner_buttons = new QHBoxLayout;
    m_banner->content()->addLayout(m_banner_buttons);
    m_banner->hide();
    m_stack->installEventFilter(this);
    m_bench = new BenchLineBar(m_session, m_logbook, m_theme);
    column->addWidget(m_bench);
    connect(&m_suggestions, &Suggestions::asked, m_bench, &BenchLineBar::take_asked);
    connect(m_bench, &BenchLineBar::understood, &m_suggestions, &Suggestions::being_typed);
    row->addLayout(column, 1);
    setCentralWidget(whole);
}

void MainWindow::show_banner(const char* look, const QString& title, const QString& text, std::vector<BannerButton> buttons) {
    m_banner->hide(); // what is put into a card that is shown takes no room before the next turn of the events
    clear_layout(m_banner_buttons);
    m_banner->set_look(look);
    m_banner->set_title(title);
    m_banner->set_text(text);
    m_banner_buttons->addStretch(1);
    for (auto& b : buttons) {
        auto* made = button(b.text, b.name, b.kind);
        connect(made, &QPushButton::clicked, this, [this, run = std::move(b.run)] {
            const auto go = run; // the button goes with the banner
            hide_banner();
            if (go) go();
        });
        m_banner_buttons->addWidget(made);
    }
    m_banner->show();
    place_banner();
}

void MainWindow::place_banner() {
    constexpr int kMargin = 10;
    const int width = m_stack->width() - 2 * kMargin;
    const int needed = m_banner->hasHeightForWidth() ? m_banner->heightForWidth(width) : m_banner->sizeHint().height();
    m_banner->setGeometry(kMargin, kMargin, width, std::min(needed, m_stack->height() - 2 * kMargin));
    m_banner->raise();
}

bool MainWindow::eventFilter(QObject* watched, QEvent* event) {
    const bool moved = event->type() == QEvent::Resize || event->type() == QEvent::ChildAdded;
    if (watched == m_stack && moved && m_banner != nullptr && m_banner->isVisible()) place_banner();
    return QMainWindow::eventFilter(watched, event);
}

void MainWindow::hide_banner() {
    clear_layout(m_banner_buttons);
    m_banner->hide();
}

void MainWindow::show_problems(const QString& title, const Problems& problems) {
    QStringList lines;
    for (const auto& p : problems) {
        if (static_cast<std::size_t>(lines.size()) >= kProblemsShown) {
            lines << tr("and %1 more").arg(problems.size() - kProblemsShown);
            break;
        }
        lines << qs(wording::problem(p));
    }
    show_banner("stop", title, lines.join(QLatin1Char('\n')), {{tr("Close"), "banner-close", nullptr, {}}});
}

void MainWindow::make_actions() {
    QMenu* menus[] = {menuBar()->addMenu(tr("&Job")), menuBar()->addMenu(tr("&Edit")), menuBar()->addMenu(tr("&View"))};
    const auto run = handlers();
    for (const auto& info : all_actions()) {
        if (!info.in_menu()) continue;
        QAction* action = make_action(info);
        if (const auto handler = run.find(info.id); handler != run.end()) connect(action, &QAction::triggered, this, handler->second);
        menus[static_cast<std::size_t>(info.place)]->addAction(action);
        m_actions[info.id] = action;
        if (info.id != QStringLiteral("open")) continue;
        m_recent = menus[0]->addMenu(tr("Recent jobs"));
        m_recent->setObjectName(QStringLiteral("recent-jobs"));
    }
    show_recent();
}

QAction* MainWindow::make_action(const ActionInfo& info) {
    QAction* action = nullptr;
    if (info.id == QStringLiteral("undo"))
        action = m_logbook.undo_stack().createUndoAction(this, info.text);
    else if (info.id == QStringLiteral("redo"))
        action = m_logbook.undo_stack().createRedoAction(this, info.text);
    else
        action = new QAction(info.text, this);
    action->setCheckable(info.id == QStringLiteral("voice"));
    action->setObjectName(QStringLiteral("action-") + info.id);
    action->setShortcut(info.key);
    return action;
}

std::map<QString, MainWindow::Then> MainWindow::handlers() {
    std::map<QString, Then> out = {
        {QStringLiteral("new"), [this] { settle_changes([this] { pick_blueprint(); }); }},
        {QStringLiteral("open"), [this] { settle_changes([this] { ask_for_job(); }); }},
        {QStringLiteral("save"), [this] { save({}); }},
        {QStringLiteral("save-as"), [this] { save_as({}); }},
        {QStringLiteral("export"),
         [this] {
             export_board(m_with, this, [this](const QString& what, bool good) {
                 show_banner(good ? "good" : "warn", what, {}, {{tr("Close"), "banner-close", nullptr, {}}});
             });
         }},
        {QStringLiteral("teach-meter"), [this] { teach_meter(); }},
        {QStringLiteral("quit"), [this] { close(); }},
        {QStringLiteral("bench-line"), [this] { m_bench->focus_line(); }},
        {QStringLiteral("find"), [this] { find_part(); }},
        {QStringLiteral("take-suggestion"), [this] { suggest([this] { Q_EMIT m_suggestions.take(); }); }},
        {QStringLiteral("suggestion-before"), [this] { suggest([this] { Q_EMIT m_suggestions.step(-1); }); }},
        {QStringLiteral("suggestion-after"), [this] { suggest([this] { Q_EMIT m_suggestions.step(1); }); }},
        {QStringLiteral("theme"),
         [this] {
             m_settings.set_theme(m_theme.theme().dark ? QStringLiteral("light") : QStringLiteral("dark"));
             m_theme.apply(!m_theme.theme().dark, m_theme.text_percent());
         }},
        {QStringLiteral("larger"), [this] { scale_text(10); }},
        {QStringLiteral("smaller"), [this] { scale_text(-10); }},
        {QStringLiteral("actions"), [this] { show_actions(); }},
        {QStringLiteral("start"), [this] { show_start(); }},
        {QStringLiteral("glance"), [this] { show_glance(); }},
        {QStringLiteral("photo"), [this] { show_photo(); }},
        {QStringLiteral("rails-round"), [this] { open_over<RailsRound>(); }},
        {QStringLiteral("hunt"), [this] { open_over<HuntDialog>(); }},
        {QStringLiteral("twin"), [this] { open_over<TwinDialog>(); }},
        {QStringLiteral("meter-in-hand"), [this] { open_over<MeterInHandDialog>(); }},
        {QStringLiteral("apart"), [this] { open_over<ApartDialog>(); }},
        {QStringLiteral("part-sheet"), [this] { open_over<PartSheetDialog>(); }},
        {QStringLiteral("look-round"), [this] { open_over<LookRound>(); }},
        {QStringLiteral("voice"), [this] { turn_voice(!m_voice->on()); }},
    };
    for (const auto& info : all_stations()) out[QStringLiteral("station-") + info.id] = [this, id = info.id] { go_to(id); };
    return out;
}

// Suggestions stand at Probe.
void MainWindow::suggest(const std::function<void()>& what) {
    go_to(QStringLiteral("probe"));
    what();
}

void MainWindow::scale_text(int by) {
    const int percent = std::clamp(m_theme.text_percent() + by, 80, 200);
    m_settings.set_text_percent(percent);
    m_theme.apply(m_theme.theme().dark, percent);
}

void MainWindow::show_actions() {
    std::vector<ActionList::Row> rows;
    for (const auto& info : all_actions()) rows.push_back({info, info.in_menu() ? m_actions.at(info.id) : nullptr});
    auto* shown = new ActionList(std::move(rows), this);
    shown->setAttribute(Qt::WA_DeleteOnClose);
    shown->show();
    shown->raise();
    shown->activateWindow(); // or what is typed would go on into the bench line
}

void MainWindow::pick_blueprint() {
    m_session.read_blueprints(this, [this](std::vector<Blueprint> families) {
        auto* picker = new BlueprintPicker(std::move(families), m_theme, this);
        picker->setAttribute(Qt::WA_DeleteOnClose);
        connect(picker, &QDialog::accepted, this, [this, picker] {
            if (picker->supply())
                m_session.start_from_supply(*picker->supply(), {}, usual_meter());
            else
                new_from_blueprint(qs(blueprint_path(m_session.data(), ss(picker->picked())).string()));
        });
        picker->open();
    });
}

void MainWindow::teach_meter() {
    auto* teacher = new MeterTeacher(this);
    teacher->setAttribute(Qt::WA_DeleteOnClose);
    connect(teacher, &QDialog::accepted, this, [this, teacher] {
        if (!teacher->meter()) return;
        if (m_session.has_job()) m_logbook.set_meter(*teacher->meter());
        if (teacher->for_new_jobs()) m_settings.set_usual_meter(qs(meter_text(*teacher->meter())));
    });
    teacher->open();
}

void MainWindow::ask_for_job() {
    m_with.choose_file(this, {tr("Open a job"), {}, tr("Jobs, netlists, parts lists (*.ohmo.json *.cir *.net *.sp *.csv *.tsv)"), false},
                       [this](const QString& file) { open_job(file); });
}

void MainWindow::go_to(const QString& id) {
    for (const auto& info : all_stations()) {
        if (info.id != id) continue;
        auto& page = m_pages[id];
        if (page == nullptr) {
            page = info.make(m_with);
            m_stack->addWidget(page);
        }
        m_stack->setCurrentWidget(page);
        m_banner->raise();
        m_rail->set_current(id);
        m_station = id;
        m_settings.set_station(id);
        m_settings.set_station_of(qs(m_session.path().string()), id);
        return;
    }
    if (m_station.isEmpty()) go_to(all_stations().front().id);
}

void MainWindow::open_job(const QString& path) { m_session.open(ss(path)); }

void MainWindow::new_from_blueprint(const QString& path) { m_session.start_from_blueprint(ss(path), {}, usual_meter()); }

std::optional<MeterProfile> MainWindow::usual_meter() const {
    const auto meter = meter_of_text(ss(m_settings.usual_meter()));
    return meter ? std::optional(*meter) : std::nullopt;
}

void MainWindow::show_opened() {
    hide_banner();
    m_logbook.clear();
    m_selection.select(-1);
    if (m_session.path().empty()) return go_to(QStringLiteral("take-in"));
    const QString path = qs(m_session.path().string()), last = m_settings.station_of(path);
    m_settings.add_recent_job(path);
    go_to(std::exchange(m_station_given, false) || last.isEmpty() ? m_station : last);
    show_recent();
}

bool MainWindow::save_job_to(const QString& path) {
    if (const auto problems = m_session.save(ss(path))) {
        show_problems(tr("Not saved; the old file still stands"), *problems);
        return false;
    }
    hide_banner();
    m_settings.add_recent_job(path);
    show_recent();
    return true;
}

void MainWindow::show_left_out(const QStringList& lines) {
    constexpr qsizetype kShown = 6;
    const auto parts = m_session.replay().board.parts.size();
    QStringList text = lines.mid(0, kShown);
    if (lines.size() > kShown) text << tr("and %1 more").arg(lines.size() - kShown);
    show_banner(lines.isEmpty() ? "good" : "warn",
                lines.isEmpty() ? tr("%1 parts came in; save them as a job when it suits you").arg(parts)
                                : tr("%1 parts came in. Left out:").arg(parts),
                text.join(QLatin1Char('\n')), {{tr("Close"), "banner-close", nullptr, {}}});
    go_to(QStringLiteral("trace"));
}

void MainWindow::save(const Then& then) {
    if (m_session.path().empty()) return save_as(then);
    if (save_job_to(qs(m_session.path().string())) && then) then();
}

void MainWindow::save_as(const Then& then) {
    m_with.choose_file(this, {tr("Save the job"), qs(m_session.path().string()), tr("Jobs (*.ohmo.json)"), true},
                       [this, then](const QString& chosen) {
                           const QString ending = QStringLiteral(".ohmo.json");
                           if (save_job_to(chosen.endsWith(ending) ? chosen : chosen + ending) && then) then();
                       });
}

// The recovery copy stays until another job is there or the window goes: a dialog that follows may be given up.
void MainWindow::settle_changes(const Then& then) {
    if (!m_session.modified()) return then();
    show_banner("warn", tr("Changes not saved"), tr("This job has entries that are not in its file yet."),
                {{tr("Save them"), "changes-save", "main", [this, then] { save(then); }},
                 {tr("Lose the new entries"), "changes-drop", "danger", then},
                 {tr("Stay here"), "changes-stay", nullptr, {}}});
}

void MainWindow::show_recent() {
    m_recent->clear();
    for (const auto& path : m_settings.recent_jobs())
        m_recent->addAction(path, this, [this, path] { settle_changes([this, path] { open_job(path); }); });
    m_recent->setEnabled(!m_settings.recent_jobs().isEmpty());
}

void MainWindow::select_part(const QString& ref) {
    if (const auto part = m_session.replay().board.find_part(ss(ref))) m_selection.select(*part);
}

void MainWindow::show_start() {
    if (m_start == nullptr) {
        m_start = new StartPage(m_with, m_settings);
        m_stack->addWidget(m_start);
        connect(m_start, &StartPage::new_job, this, [this] { m_actions.at(QStringLiteral("new"))->trigger(); });
        connect(m_start, &StartPage::open_job, this, [this] { m_actions.at(QStringLiteral("open"))->trigger(); });
        connect(m_start, &StartPage::open_path, this, [this](const QString& path) { settle_changes([this, path] { open_job(path); }); });
        connect(m_start, &StartPage::open_demo, this,
                [this] { settle_changes([this] { m_session.open_dated_today(m_session.data() / "demo" / "rb6-half-way.ohmo.json"); }); });
    }
    m_start->refresh();
    m_stack->setCurrentWidget(m_start);
    m_banner->raise();
    m_rail->set_current({});
}

// On the station in front where it shows the board, else on Probe.
void MainWindow::show_photo() {
    if (m_stack->currentWidget() == nullptr || m_stack->currentWidget()->findChild<BoardPane*>() == nullptr) go_to(QStringLiteral("probe"));
    if (auto* pane = m_stack->currentWidget()->findChild<BoardPane*>()) pane->toggle();
}

void MainWindow::show_glance() {
    if (m_glance != nullptr) { // F11 again leaves
        m_glance->deleteLater();
        m_glance = nullptr;
        return m_bench->focus_line();
    }
    m_glance = new Glance(m_with, centralWidget());
    connect(m_glance, &Glance::left, this, &MainWindow::show_glance);
    m_glance->setGeometry(centralWidget()->rect());
    m_glance->show();
    m_glance->raise();
    m_glance->setFocus();
}

void MainWindow::turn_voice(bool on) {
    if (!m_voice->turn(on))
        show_banner(
            "warn", tr("Nothing on this machine can speak"),
            tr("The voice goes through the speech service of the desktop. Install speech-dispatcher and an engine for it (on Debian "
               "the packages speech-dispatcher and speech-dispatcher-espeak-ng), then turn it on again with F9."),
            {{tr("Close"), "banner-close", nullptr, {}}});
    m_actions.at(QStringLiteral("voice"))->setChecked(m_voice->on());
    m_settings.set_voice(m_voice->on());
}

void MainWindow::resizeEvent(QResizeEvent* event) {
    QMainWindow::resizeEvent(event);
    if (m_glance != nullptr) m_glance->setGeometry(centralWidget()->rect());
}

void MainWindow::find_part() {
    auto* field = new FindField(this);
    field->setGeometry(width() / 2 - 110, 70, 220, 34);
    connect(field, &QLineEdit::returnPressed, this, [this, field] {
        select_part(field->text().trimmed());
        field->deleteLater();
    });
    field->show();
    field->setFocus();
}

void MainWindow::offer_recovery() {
    const auto found = m_session.recovery();
    if (!found) return;
    const auto count = found->job.journal.size();
    const QString name = found->belongs_to.empty() ? tr("a new job") : qs(found->belongs_to.filename().string());
    show_banner("warn", tr("The last session ended without saving"),
                count == 1 ? tr("One entry was kept of %1.").arg(name) : tr("%1 entries were kept of %2.").arg(count).arg(name),
                {{tr("Go on with them"), "banner-restore", "main", [this, kept = *found] { m_session.restore(kept); }},
                 {tr("Throw them away"), "banner-forget", "danger", [this] { m_session.forget_recovery(); }},
                 {tr("Close"), "banner-close", nullptr, {}}});
}

void MainWindow::retitle() {
    const QString name = m_session.path().empty() ? tr("new job") : qs(m_session.path().filename().string());
    setWindowTitle(m_session.has_job()
                       ? QStringLiteral("%1%2 – Ohmotrace").arg(name, m_session.modified() ? QStringLiteral(" *") : QString())
                       : QStringLiteral("Ohmotrace"));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (m_session.modified() && !m_leaving) {
        event->ignore();
        return settle_changes([this] {
            m_leaving = true;
            m_session.forget_recovery();
            close();
        });
    }
    m_settings.set_window(saveGeometry());
    event->accept();
}

} // namespace ohmo
