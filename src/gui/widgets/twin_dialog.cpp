// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/twin_dialog.h"

#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/twin_words.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QTableWidget>

namespace ohmo {
namespace {

enum Column { kPlace, kHere, kThere, kSays, kColumns };

bool names_twin(const Entry& e) { return e.act == Do::Note && e.what == kTwin; }

} // namespace

TwinDialog::TwinDialog(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_unit(body({})), m_sum(heading({})), m_table(new QTableWidget(0, kColumns)) {
    auto* outer = dialog_layout(*this, "twin", tr("Beside a good unit"), {820, 520});
    auto* top = new QHBoxLayout;
    m_unit->setObjectName(QStringLiteral("twin-unit"));
    top->addWidget(m_unit, 1);
    auto* other = button(tr("Choose its job…"), "twin-choose");
    other->setAutoDefault(false);
    top->addWidget(other);
    outer->addLayout(top);
    m_sum->setObjectName(QStringLiteral("twin-sum"));
    outer->addWidget(m_sum);
    m_table->setObjectName(QStringLiteral("twin-table"));
    m_table->setAccessibleName(tr("Readings of both units"));
    m_table->setHorizontalHeaderLabels({tr("Place"), tr("This unit"), tr("Good unit"), tr("Says")});
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setTabKeyNavigation(false);
    share_columns(*m_table, {7, 3, 3, 4});
    outer->addWidget(m_table, 1);
    auto* ends = new QHBoxLayout;
    ends->addWidget(
        body(tr("Enter or a double click puts the place into the bench line. Two good units differ too: see what is odd, then ask "
                "why."),
             "muted"),
        1);
    auto* close = button(tr("Close"), "twin-close");
    close->setAutoDefault(false);
    ends->addWidget(close);
    outer->addLayout(ends);
    connect(other, &QPushButton::clicked, this, &TwinDialog::choose);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_table, &QTableWidget::cellActivated, this, [this](int row) { take(row); });
    connect(&with.session, &Session::job_changed, this, &TwinDialog::load);
    load();
    m_table->setFocus();
}

QString TwinDialog::file() const {
    const int at = m_with.logbook.last(names_twin);
    return at < 0 ? QString() : qs(m_with.session.job().journal[static_cast<std::size_t>(at)].text);
}

void TwinDialog::choose() {
    const QString folder = qs(m_with.session.path().parent_path().string());
    m_with.choose_file(this, {tr("The job of a good unit"), folder, tr("Jobs (*.ohmo.json)"), false},
                       [this](const QString& job) { use(ss(job)); });
}

// Named in the journal, so that it is there the next time and can be taken back.
void TwinDialog::use(const Path& job) {
    const Path folder = m_with.session.path().parent_path();
    Entry e;
    e.act = Do::Note;
    e.what = kTwin;
    e.text = (folder.empty() ? job : job.lexically_proximate(folder)).generic_string();
    const auto problems = m_with.logbook.log(e); // job_changed goes on
    if (!problems.empty()) m_unit->setText(qs(wording::problem(problems.front())));
}

// Read off the interface thread, once for each file.
void TwinDialog::load() {
    const QString now = file();
    if (now.isEmpty() || now == m_loaded) return refresh();
    m_loaded = now;
    m_there.reset();
    m_unit->setText(tr("Reading %1…").arg(now));
    const int mine = ++m_asked;
    m_with.session.read_other(m_with.session.path().parent_path() / ss(now), this, [this, mine](const Result<Replay>& read) {
        if (mine != m_asked) return;
        if (read) m_there = std::make_shared<const Replay>(*read);
        refresh();
        if (!read) m_unit->setText(tr("%1 cannot be read: %2").arg(m_loaded, qs(wording::problem(read.problem()))));
    });
}

void TwinDialog::refresh() {
    if (!m_there) {
        if (m_loaded.isEmpty())
            m_unit->setText(
                tr("No good unit was named yet. Log its readings in a job of its own (save this one under another name, or start "
                   "from the same blueprint), then choose that job here."));
        m_table->setRowCount(0);
        m_sum->clear();
        return;
    }
    m_unit->setText(tr("Good unit: %1").arg(m_loaded));
    m_rows = compare_with_twin(m_with.session.replay(), *m_there);
    m_sum->setText(qs(wording::twin_sum(m_rows)));
    m_table->setRowCount(static_cast<int>(m_rows.size()));
    for (int r = 0; r < m_table->rowCount(); ++r) {
        const auto& row = m_rows[static_cast<std::size_t>(r)];
        int column = 0;
        for (const auto& text : {wording::twin_place(row.place), wording::twin_reading(row.place.what, row.here),
                                 wording::twin_reading(row.place.what, row.there), wording::twin_says(row)}) {
            auto* item = new QTableWidgetItem(qs(text));
            item->setToolTip(qs(text));
            m_table->setItem(r, column++, item);
        }
    }
    if (m_table->rowCount() > 0 && m_table->currentRow() < 0) m_table->setCurrentCell(0, 0);
}

void TwinDialog::take(int row) {
    if (row < 0 || row >= static_cast<int>(m_rows.size())) return;
    m_with.write_bench_line(qs(wording::twin_line(m_rows[static_cast<std::size_t>(row)].place)));
    accept();
}

} // namespace ohmo
