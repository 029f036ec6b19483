// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/main_window.h"

#include "gui/action_list.h"
#include "gui/text.h"
#include "gui/widgets/bench_line_bar.h"
#include "gui/widgets/blueprint_picker.h"
#include "gui/widgets/job_rail.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/unit_strip.h"
#include "report/wording.h"

#include <QAction>
#include <QApplication>
#include <QCloseEvent>
#include <QFileDialog>
#include <QLineEdit>
#include <QMenu>
#include <QMenuBar>
#include <QMessageBox>
#include <QPushButton>
#include <QStackedWidget>

namespace ohmo {

MainWindow::MainWindow(Session& session, Settings& settings, ThemeSource& theme, const QString& station)
    : m_session(session), m_settings(settings), m_theme(theme), m_logbook(session), m_with{session,
                                                                                           m_logbook,
                                                                                           m_selection,
                                                                                           theme,
                                                                                           [this](const QString& text) { m_bench->write(text); },
                                                                                           [this](const QString& id) { go_to(id); }} {
    setObjectName(QStringLiteral("main-window"));
    auto* whole = new QWidget;
    auto* row = new QHBoxLayout(whole);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(0);
    m_rail = new JobRail(session, theme);
    row->addWidget(m_rail);
    auto* column = new QVBoxLayout;
    column->setSpacing(0);
    column->addWidget(new UnitStrip(session, theme));
    make_banner(column);
    m_stack = new QStackedWidget;
    column->addWidget(m_stack, 1);
    m_bench = new BenchLineBar(session, m_logbook, theme);
    column->addWidget(m_bench);
    row->addLayout(column, 1);
    setCentralWidget(whole);
    make_actions();
    connect(m_rail, &JobRail::chosen, this, &MainWindow::go_to);
    connect(&session, &Session::path_changed, this, &MainWindow::retitle);
    connect(&session, &Session::job_changed, this, &MainWindow::retitle);
    connect(&session, &Session::analysis_failed, this,
            [this](const Problems& p) { show_problems(tr("The job could not be worked out"), p); });
    resize(1280, 800);
    setMinimumSize(1000, 640);
    if (!settings.window().isEmpty()) restoreGeometry(settings.window());
    go_to(station.isEmpty() ? settings.station() : station);
    retitle();
    m_bench->focus_line();
}

MainWindow::~MainWindow() = default;

void MainWindow::make_banner(QVBoxLayout* column) {
    m_banner = new Card({}, "stop");
    m_banner->setObjectName(QStringLiteral("banner"));
    m_banner_buttons = new QHBoxLayout;
    m_banner_buttons->addStretch(1);
    m_banner->content()->addLayout(m_banner_buttons);
    auto* close = button(tr("Close"), "banner-close");
    connect(close, &QPushButton::clicked, m_banner, &QWidget::hide);
    m_banner_buttons->addWidget(close);
    m_banner->hide();
    column->addWidget(m_banner);
}

void MainWindow::show_problems(const QString& title, const Problems& problems) {
    QStringList lines;
    for (const auto& p : problems) {
        if (lines.size() >= 6) {
            lines << tr("and %1 more").arg(problems.size() - 6);
            break;
        }
        lines << qs(wording::problem(p));
    }
    m_banner->set_look("stop");
    m_banner->set_title(title);
    m_banner->set_text(lines.join(QLatin1Char('\n')));
    m_banner->show();
}

void MainWindow::make_actions() {
    auto* job = menuBar()->addMenu(tr("&Job"));
    auto* edit = menuBar()->addMenu(tr("&Edit"));
    auto* view = menuBar()->addMenu(tr("&View"));
    const auto add = [&](QMenu* menu, const QString& id, const QString& text, const QKeySequence& key, auto&& run) {
        auto* action = menu->addAction(text);
        action->setObjectName(QStringLiteral("action-") + id);
        action->setShortcut(key);
        connect(action, &QAction::triggered, this, run);
        m_actions.emplace_back(id, action);
        return action;
    };
    add(job, QStringLiteral("new"), tr("New from blueprint…"), QKeySequence::New, [this] {
        if (!settle_changes()) return;
        std::vector<Blueprint> families;
        for (const auto name : blueprint_names())
            if (auto one = m_session.blueprint(name)) families.push_back(std::move(*one));
        auto* picker = new BlueprintPicker(std::move(families), this);
        picker->setAttribute(Qt::WA_DeleteOnClose);
        connect(picker, &QDialog::accepted, this,
                [this, picker] { new_from_blueprint(qs(blueprint_path(m_session.data(), ss(picker->picked())).string())); });
        picker->open();
    });
    add(job, QStringLiteral("open"), tr("Open…"), QKeySequence::Open, [this] {
        if (!settle_changes()) return;
        const QString file = QFileDialog::getOpenFileName(this, tr("Open a job"), {}, tr("Jobs (*.ohmo.json)"));
        if (!file.isEmpty()) open_job(file);
    });
    m_recent = job->addMenu(tr("Recent jobs"));
    m_recent->setObjectName(QStringLiteral("recent-jobs"));
    show_recent();
    add(job, QStringLiteral("save"), tr("Save"), QKeySequence::Save, [this] { save(); });
    add(job, QStringLiteral("save-as"), tr("Save as…"), QKeySequence(QStringLiteral("Ctrl+Shift+S")), [this] { save_as(); });
    add(job, QStringLiteral("quit"), tr("Quit"), QKeySequence::Quit, [this] { close(); });

    auto* undo = m_logbook.undo_stack().createUndoAction(this, tr("Undo"));
    undo->setObjectName(QStringLiteral("action-undo"));
    undo->setShortcut(QKeySequence::Undo);
    auto* redo = m_logbook.undo_stack().createRedoAction(this, tr("Redo"));
    redo->setObjectName(QStringLiteral("action-redo"));
    redo->setShortcut(QKeySequence(QStringLiteral("Ctrl+Shift+Z")));
    edit->addAction(undo);
    edit->addAction(redo);
    m_actions.emplace_back(QStringLiteral("undo"), undo);
    m_actions.emplace_back(QStringLiteral("redo"), redo);
    add(edit, QStringLiteral("bench-line"), tr("Go to the bench line"), QKeySequence(QStringLiteral("Ctrl+L")),
        [this] { m_bench->focus_line(); });
    add(edit, QStringLiteral("find"), tr("Find a part…"), QKeySequence::Find, [this] { find_part(); });

    int number = 0;
    for (const auto& info : all_stations())
        add(view, QStringLiteral("station-") + info.id, info.title, QKeySequence(QStringLiteral("Ctrl+%1").arg(++number)),
            [this, id = info.id] { go_to(id); });
    view->addSeparator();
    add(view, QStringLiteral("theme"), tr("Light or dark"), QKeySequence(QStringLiteral("Ctrl+D")), [this] {
        m_settings.set_theme(m_theme.theme().dark ? QStringLiteral("light") : QStringLiteral("dark"));
        m_theme.apply(!m_theme.theme().dark, m_theme.text_percent());
    });
    const auto scale = [this](int by) {
        const int percent = std::clamp(m_theme.text_percent() + by, 80, 200);
        m_settings.set_text_percent(percent);
        m_theme.apply(m_theme.theme().dark, percent);
    };
    add(view, QStringLiteral("larger"), tr("Larger text"), QKeySequence(QStringLiteral("Ctrl++")), [scale] { scale(10); });
    add(view, QStringLiteral("smaller"), tr("Smaller text"), QKeySequence(QStringLiteral("Ctrl+-")), [scale] { scale(-10); });
    add(view, QStringLiteral("actions"), tr("All actions…"), QKeySequence(QStringLiteral("F1")), [this] {
        std::vector<QAction*> list;
        for (const auto& [id, action] : m_actions) list.push_back(action);
        auto* shown = new ActionList(list, this);
        shown->setAttribute(Qt::WA_DeleteOnClose);
        shown->show();
    });
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
        m_rail->set_current(id);
        m_station = id;
        m_settings.set_station(id);
        return;
    }
    if (m_station.isEmpty()) go_to(all_stations().front().id);
}

bool MainWindow::open_job(const QString& path) {
    if (const auto problems = m_session.open(ss(path))) {
        show_problems(tr("%1 was not opened; the job on screen is untouched").arg(path), *problems);
        return false;
    }
    m_banner->hide();
    m_logbook.clear();
    m_selection.select(-1);
    m_settings.add_recent_job(path);
    show_recent();
    return true;
}

void MainWindow::new_from_blueprint(const QString& path) {
    if (const auto problems = m_session.start_from_blueprint(ss(path), {}))
        return show_problems(tr("The blueprint was not used"), *problems);
    m_logbook.clear();
    m_selection.select(-1);
    go_to(QStringLiteral("take-in"));
}

bool MainWindow::save_job_to(const QString& path) {
    if (const auto problems = m_session.save(ss(path))) {
        show_problems(tr("Not saved; the old file still stands"), *problems);
        return false;
    }
    m_banner->hide();
    m_settings.add_recent_job(path);
    show_recent();
    return true;
}

bool MainWindow::save() { return m_session.path().empty() ? save_as() : save_job_to(qs(m_session.path().string())); }

bool MainWindow::save_as() {
    QString file = QFileDialog::getSaveFileName(this, tr("Save the job"), qs(m_session.path().string()), tr("Jobs (*.ohmo.json)"));
    if (file.isEmpty()) return false;
    if (!file.endsWith(QStringLiteral(".ohmo.json"))) file += QStringLiteral(".ohmo.json");
    return save_job_to(file);
}

bool MainWindow::settle_changes() {
    if (!m_session.modified()) return true;
    QMessageBox box(QMessageBox::Question, tr("Changes not saved"), tr("This job has entries that are not in its file yet."),
                    QMessageBox::NoButton, this);
    auto* keep = box.addButton(tr("Save them"), QMessageBox::AcceptRole);
    auto* drop = box.addButton(tr("Lose the new entries"), QMessageBox::DestructiveRole);
    box.addButton(tr("Stay here"), QMessageBox::RejectRole);
    box.exec();
    if (box.clickedButton() == keep) return save();
    if (box.clickedButton() != drop) return false;
    m_session.forget_recovery();
    return true;
}

void MainWindow::show_recent() {
    m_recent->clear();
    for (const auto& path : m_settings.recent_jobs())
        m_recent->addAction(path, this, [this, path] {
            if (settle_changes()) open_job(path);
        });
    m_recent->setEnabled(!m_settings.recent_jobs().isEmpty());
}

void MainWindow::select_part(const QString& ref) {
    if (const auto part = m_session.replay().board.find_part(ss(ref))) m_selection.select(*part);
}

void MainWindow::find_part() {
    auto* field = new QLineEdit(this);
    field->setObjectName(QStringLiteral("find-ref"));
    field->setAccessibleName(tr("Find a part by ref"));
    field->setPlaceholderText(tr("ref, such as C5"));
    field->setGeometry(width() / 2 - 110, 70, 220, 34);
    connect(field, &QLineEdit::returnPressed, this, [this, field] {
        select_part(field->text().trimmed());
        field->deleteLater();
    });
    connect(field, &QLineEdit::editingFinished, field, &QObject::deleteLater);
    field->show();
    field->setFocus();
}

void MainWindow::offer_recovery() {
    const auto found = m_session.recovery();
    if (!found) return;
    m_banner->set_look("warn");
    m_banner->set_title(tr("The last session ended without saving"));
    m_banner->set_text(tr("%1 were kept of %2.")
                           .arg(counted(static_cast<qsizetype>(found->job.journal.size()), tr("entry"), tr("entries")))
                           .arg(found->belongs_to.empty() ? tr("a new job") : qs(found->belongs_to.filename().string())));
    auto* take = button(tr("Go on with them"), "banner-restore", "main");
    auto* drop = button(tr("Throw them away"), "banner-forget", "danger");
    connect(take, &QPushButton::clicked, this, [this, take, drop, kept = *found] {
        m_session.restore(kept);
        m_banner->hide();
        take->deleteLater();
        drop->deleteLater();
    });
    connect(drop, &QPushButton::clicked, this, [this, take, drop] {
        m_session.forget_recovery();
        m_banner->hide();
        take->deleteLater();
        drop->deleteLater();
    });
    m_banner_buttons->insertWidget(1, take);
    m_banner_buttons->insertWidget(2, drop);
    m_banner->show();
}

void MainWindow::retitle() {
    const QString name = m_session.path().empty() ? tr("new job") : qs(m_session.path().filename().string());
    setWindowTitle(m_session.has_job()
                       ? QStringLiteral("%1%2 – Ohmotrace").arg(name, m_session.modified() ? QStringLiteral(" *") : QString())
                       : QStringLiteral("Ohmotrace"));
}

void MainWindow::closeEvent(QCloseEvent* event) {
    if (!settle_changes()) return event->ignore();
    m_settings.set_window(saveGeometry());
    event->accept();
}

} // namespace ohmo
