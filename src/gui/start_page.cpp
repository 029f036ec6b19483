// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/start_page.h"

#include "gui/text.h"
#include "gui/widgets/job_tile.h"
#include "gui/widgets/panel.h"

#include <QDateTime>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPointer>
#include <QPushButton>

#include <map>

namespace ohmo {
namespace {

constexpr int kMostRecent = 6;

QString file_title(const QString& path) { return QFileInfo(path).fileName().remove(QStringLiteral(".ohmo.json")); }

// The stations in their order: number, name, what is done there.
QGridLayout* steps() {
    auto* out = new QGridLayout;
    out->setHorizontalSpacing(10);
    out->setVerticalSpacing(6);
    out->setColumnStretch(2, 1);
    const std::map<QString, QString> done_there = {
        {QStringLiteral("take-in"), StartPage::tr("the complaint, its history, plug and fuse")},
        {QStringLiteral("make-safe"), StartPage::tr("discharge the bulk capacitor, measured before and after; cold readings wait for it")},
        {QStringLiteral("trace"), StartPage::tr("name what you recognise; nothing needs to be complete")},
        {QStringLiteral("probe"), StartPage::tr("the suggested reading (F2) or any other: type what the meter shows, Enter")},
        {QStringLiteral("story"), StartPage::tr("what killed what, with the sums behind it")},
        {QStringLiteral("parts"), StartPage::tr("what to replace, with what, which way round")},
        {QStringLiteral("power-up"), StartPage::tr("step by step, locked until cold evidence allows it")},
        {QStringLiteral("hand-back"), StartPage::tr("proof, record, price")}};
    int row = 0;
    for (const auto& station : all_stations()) {
        out->addWidget(new QLabel(QString::number(row + 1)), row, 0, Qt::AlignTop);
        auto* title = new QLabel(station.title);
        auto bold = title->font();
        bold.setBold(true);
        title->setFont(bold);
        out->addWidget(title, row, 1, Qt::AlignTop);
        out->addWidget(body(done_there.at(station.id)), row, 2);
        ++row;
    }
    return out;
}

} // namespace

StartPage::StartPage(const Collaborators& with, const Settings& settings, QWidget* parent)
    : QWidget(parent), m_with(with), m_settings(settings) {
    setObjectName(QStringLiteral("start-page"));
    QVBoxLayout* page = nullptr; // larger text asks for more room than there is
    auto* whole = new QVBoxLayout(this);
    whole->setContentsMargins(0, 0, 0, 0);
    whole->addWidget(scrolled_column(page));
    auto* row = new QHBoxLayout;
    page->addLayout(row);
    page->addStretch(1);
    row->setContentsMargins(40, 28, 40, 28);
    row->setSpacing(40);
    auto* left = new QVBoxLayout;
    left->setSpacing(10);
    left->addWidget(heading(tr("A dead supply on the bench?")));
    left->addWidget(body(tr("Begin with the family that looks like it. You need no schematic: say what the board "
                            "shows, and take the first suggestion."),
                         "muted"));
    const auto big = [&](const QString& text, const char* name, const char* kind, auto signal) {
        auto* b = button(text, name, kind);
        b->setMinimumHeight(44);
        connect(b, &QPushButton::clicked, this, signal);
        left->addWidget(b);
    };
    big(tr("New job from a blueprint   Ctrl+N"), "start-new", "main", &StartPage::new_job);
    big(tr("Open a job   Ctrl+O"), "start-open", nullptr, &StartPage::open_job);
    big(tr("Look at the demo: a rope braider, half way"), "start-demo", nullptr, &StartPage::open_demo);
    left->addSpacing(14);
    left->addWidget(heading(tr("Recent jobs")));
    m_recent = new QVBoxLayout;
    left->addLayout(m_recent);
    left->addStretch(1);
    row->addLayout(left, 1);

    auto* how = new Card(tr("How it works"), "plain");
    how->setObjectName(QStringLiteral("how-it-works"));
    how->content()->addLayout(steps());
    how->content()->addSpacing(6);
    for (const auto& text :
         {tr("The line at the bottom takes everything: C5 ohm 2.9 · F1 open · lift Q1 · +24V 24.1 V mains idle. "
             "Every entry can be taken back."),
          tr("F11 shows the next act in large letters, F9 says it aloud, F1 lists all keys."),
          tr("Mains and charged capacitors kill. Follow the rules of your country; if you are not trained for live work, stop at the "
             "cold readings.")})
        how->content()->addWidget(body(text));
    row->addWidget(how, 1, Qt::AlignTop);
    refresh();
}

void StartPage::refresh() {
    clear_layout(m_recent);
    const QStringList jobs = m_settings.recent_jobs().mid(0, kMostRecent);
    std::vector<Path> paths;
    std::vector<QPointer<JobTile>> tiles;
    for (const auto& path : jobs) {
        auto* tile = new JobTile(file_title(path));
        tile->setObjectName(QStringLiteral("start-recent"));
        tile->setToolTip(path);
        connect(tile, &QPushButton::clicked, this, [this, path] { Q_EMIT open_path(path); });
        m_recent->addWidget(tile);
        paths.push_back(ss(path));
        tiles.push_back(tile);
    }
    if (jobs.isEmpty()) m_recent->addWidget(body(tr("None yet. What you open or save is listed here."), "muted"));
    m_with.session.read_progress(paths, this, [this, jobs, tiles](const std::vector<std::optional<JobProgress>>& found) {
        for (std::size_t i = 0; i < tiles.size() && i < found.size(); ++i)
            if (tiles[i]) show_progress(*tiles[i], jobs[static_cast<qsizetype>(i)], found[i]);
    });
}

void StartPage::show_progress(JobTile& tile, const QString& path, const std::optional<JobProgress>& found) const {
    if (!found) return tile.set_texts(file_title(path), tr("cannot be read: moved, removed or damaged"));
    QStringList words = {qs(found->state)};
    const QString station = m_settings.station_of(path);
    for (const auto& info : all_stations())
        if (info.id == station) words << tr("last at %1").arg(info.title);
    if (found->last > 0) words << QDateTime::fromSecsSinceEpoch(found->last).toString(QStringLiteral("yyyy-MM-dd hh:mm"));
    tile.set_texts(found->unit.empty() ? file_title(path) : tr("%1   %2").arg(qs(found->unit), file_title(path)),
                   words.join(QStringLiteral(" · ")));
    tile.setToolTip(path + QLatin1Char('\n') + words.join(QLatin1Char('\n')));
}

} // namespace ohmo
