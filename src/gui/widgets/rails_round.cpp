// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/rails_round.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "report/wording.h"

#include <QHBoxLayout>
#include <QHeaderView>
#include <QKeyEvent>
#include <QLineEdit>
#include <QPushButton>
#include <QTableWidget>

#include <algorithm>

namespace ohmo {
namespace {

enum Column { kRail, kSound, kRead, kSays, kColumns };

QString says(RailVerdict verdict) {
    switch (verdict) {
    case RailVerdict::Unread:
        return {};
    case RailVerdict::Fine:
        return RailsRound::tr("✓ fine");
    case RailVerdict::Low:
        return RailsRound::tr("▼ low");
    case RailVerdict::High:
        return RailsRound::tr("▲ high");
    case RailVerdict::OddOneOut:
        return RailsRound::tr("✕ the odd one out");
    }
    return {};
}

} // namespace

RailsRound::RailsRound(const Collaborators& with, QWidget* parent)
    : QDialog(parent), m_with(with), m_table(new QTableWidget(0, kColumns)), m_how(body({}, "muted")), m_asked(heading({})),
      m_says(body({}, "bad")), m_value(new QLineEdit) {
    auto* outer = dialog_layout(*this, "rails-round", tr("Rails round"), {640, 420});
    outer->addWidget(m_how);
    m_table->setObjectName(QStringLiteral("rails-round-table"));
    m_table->setAccessibleName(tr("Rails and what they show"));
    m_table->setHorizontalHeaderLabels({tr("Rail"), tr("A sound board shows"), tr("Read"), tr("Says")});
    m_table->verticalHeader()->hide();
    m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
    m_table->setSelectionMode(QAbstractItemView::SingleSelection);
    m_table->setFocusPolicy(Qt::NoFocus);
    share_columns(*m_table, {3, 4, 3, 4});
    outer->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    row->addWidget(m_asked);
    m_value->setObjectName(QStringLiteral("rails-round-value"));
    row->addWidget(m_value, 1);
    outer->addLayout(row);
    outer->addWidget(m_says);
    m_says->setObjectName(QStringLiteral("rails-round-says"));
    auto* ends = new QHBoxLayout;
    ends->addWidget(body(tr("Enter logs and goes on, Up and Down go to another rail, Esc leaves."), "muted"), 1);
    auto* close = button(tr("Close"), "rails-round-close");
    close->setAutoDefault(false);
    ends->addWidget(close);
    outer->addLayout(ends);
    m_value->installEventFilter(this);
    connect(close, &QPushButton::clicked, this, &QDialog::accept);
    connect(m_value, &QLineEdit::returnPressed, this, &RailsRound::log);
    connect(m_table, &QTableWidget::currentCellChanged, this, [this] { ask(); });
    connect(&with.session, &Session::analysis_changed, this, &RailsRound::refresh);
    refresh();
    m_value->setFocus();
}

bool RailsRound::live() const { return m_with.session.replay().mains_on; }

void RailsRound::refresh() {
    const auto& a = m_with.session.analysis();
    m_how->setText(
        live() ? tr("Volts under power, red on the rail, black on its return. One hand, insulated probe.")
               : tr("Ohms, cold, red on the rail, black on its return. Leads nulled. Loads are seldom known: look for the odd one out."));
    if (!a) return;
    const int current = m_table->currentRow();
    m_rows = rails_round(*a, live());
    const auto unit = live() ? "V" : "Ω";
    m_table->setRowCount(static_cast<int>(m_rows.size()));
    for (int r = 0; r < static_cast<int>(m_rows.size()); ++r) {
        const auto& row = m_rows[static_cast<std::size_t>(r)];
        const auto& rail = a->replay.board.rails[static_cast<std::size_t>(row.rail)];
        const QString sound =
            row.sound.over ? tr("out of range") : qs(format_quantity(row.sound.low, unit) + " … " + format_quantity(row.sound.high, unit));
        const QString read = row.value_over ? tr("out of range") : row.value ? qs(format_quantity(*row.value, unit)) : QString();
        int column = 0;
        for (const auto& text : {QStringLiteral("%1 – %2").arg(qs(rail.net), qs(rail.ret)), sound, read, says(row.verdict)})
            m_table->setItem(r, column++, new QTableWidgetItem(text));
    }
    m_table->setCurrentCell(std::clamp(current, 0, std::max(m_table->rowCount() - 1, 0)), 0);
    ask();
}

void RailsRound::ask() {
    const int r = m_table->currentRow();
    const bool there = r >= 0 && r < static_cast<int>(m_rows.size()), locked = !live() && !m_with.session.replay().cold_unlocked;
    m_value->setEnabled(there && !locked);
    if (locked) return m_says->setText(tr("Cold readings wait until the bulk capacitor has been measured low: Make safe (Ctrl+2)."));
    if (!there) return m_asked->setText(tr("No rail is known"));
    if (m_round_done) return m_asked->setText(tr("Once round. Up goes back to one."));
    const auto& rail = m_with.session.replay().board.rails[static_cast<std::size_t>(m_rows[static_cast<std::size_t>(r)].rail)];
    m_asked->setText(live() ? tr("%1 in volts").arg(qs(rail.net)) : tr("%1 in ohms").arg(qs(rail.net)));
    m_value->setAccessibleName(m_asked->text());
}

void RailsRound::log() {
    const int r = m_table->currentRow();
    if (r < 0 || m_round_done || m_value->text().trimmed().isEmpty()) return;
    const auto& now = m_with.session.replay();
    const auto& rail = now.board.rails[static_cast<std::size_t>(m_rows[static_cast<std::size_t>(r)].rail)];
    const std::string value = ss(m_value->text().trimmed());
    const auto problems = m_with.logbook.log_line(live() ? rail.net + " " + rail.ret + " " + value + " V mains"
                                                         : rail.net + " " + rail.ret + " ohm " + value);
    m_says->setText(problems.empty() ? QString() : qs(wording::problem(problems.front())));
    if (!problems.empty()) return m_value->selectAll();
    m_value->clear();
    m_round_done = r + 1 == m_table->rowCount();
    if (m_round_done) return ask();
    m_table->setCurrentCell(r + 1, 0);
}

bool RailsRound::eventFilter(QObject* watched, QEvent* event) {
    if (watched == m_value && event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key(), step = key == Qt::Key_Up ? -1 : key == Qt::Key_Down ? 1 : 0;
        if (step != 0) {
            m_round_done = false;
            m_table->setCurrentCell(std::clamp(m_table->currentRow() + step, 0, m_table->rowCount() - 1), 0);
            return true;
        }
    }
    return QDialog::eventFilter(watched, event);
}

} // namespace ohmo
