// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/open_ends_list.h"

#include "gui/text.h"
#include "gui/widgets/panel.h"
#include "gui/widgets/yielding.h"
#include "job/traced.h"
#include "report/wording.h"

#include <QHBoxLayout>

namespace ohmo {
namespace {

// How the line begins that answers the question.
QString begun(const Board& board, const OpenEnd& end) {
    switch (end.kind) {
    case OpenEndKind::FreePin:
        return QStringLiteral("= %1 %2=").arg(qs(board.part(end.part).ref), qs(end.pin));
    case OpenEndKind::LonelyNet:
        return QStringLiteral("+ ");
    case OpenEndKind::SidesMeet:
        return end.part < 0 ? QStringLiteral("= ") : QStringLiteral("= %1 ").arg(qs(board.part(end.part).ref));
    case OpenEndKind::NoWayBack:
    case OpenEndKind::NoInlet:
        return QStringLiteral("+ ");
    case OpenEndKind::NoRails:
        return QStringLiteral("rail ");
    }
    return {};
}

} // namespace

OpenEndsList::OpenEndsList(const Collaborators& with, QWidget* parent) : QWidget(parent), m_with(with) {
    setObjectName(QStringLiteral("open-ends"));
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(scrolled_column(m_rows));
    QObject::connect(&with.session, &Session::job_changed, this, [this] { refresh(); });
    refresh();
}

void OpenEndsList::refresh() {
    const auto& board = m_with.session.replay().board;
    m_ends = open_ends(board);
    clear_layout(m_rows);
    for (int i = 0; i < count(); ++i) m_rows->addWidget(row(m_ends[static_cast<std::size_t>(i)], i));
    if (m_ends.empty())
        m_rows->addWidget(body(board.parts.empty()
                                   ? tr("No parts yet. Type + F1 T2A L L1 in the bench line, or paste rows (Ctrl+V in the table).")
                                   : tr("No open ends: every pin has its net, every rail its way back."),
                               board.parts.empty() ? "muted" : "good"));
    m_rows->addStretch(1);
}

QWidget* OpenEndsList::row(const OpenEnd& end, int number) {
    const auto& board = m_with.session.replay().board;
    auto* box = new QWidget;
    auto* layout = new QHBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    const QString says = qs(wording::open_end(board, end));
    auto* text = body(says, end.kind == OpenEndKind::SidesMeet ? "bad" : end.kind == OpenEndKind::FreePin ? nullptr : "warn");
    layout->addWidget(text, 1);
    const auto name = QStringLiteral("mend-%1").arg(number);
    auto* mend = button(end.repair ? tr("Yes, one net") : tr("Answer…"), qPrintable(name));
    mend->setAccessibleName(tr("%1 %2").arg(mend->text(), says));
    QObject::connect(mend, &QPushButton::clicked, this, [this, end] {
        if (!end.repair) return m_with.write_bench_line(begun(m_with.session.replay().board, end));
        (void)m_with.logbook.log(trace_entry({*end.repair}));
    });
    layout->addWidget(mend);
    if (end.part >= 0) {
        auto* look = button(tr("Show"), qPrintable(QStringLiteral("show-end-%1").arg(number)));
        look->setAccessibleName(tr("Show %1 on the map").arg(qs(board.part(end.part).ref)));
        QObject::connect(look, &QPushButton::clicked, this, [this, part = end.part] { m_with.selection.select(part); });
        layout->addWidget(look);
    }
    return box;
}

} // namespace ohmo
