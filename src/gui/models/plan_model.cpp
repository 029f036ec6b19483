// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/models/plan_model.h"

#include "base/engineering.h"
#include "board/nominal.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QFont>

namespace ohmo {

PlanModel::PlanModel(const Session& session, QObject* parent) : QAbstractTableModel(parent), m_analysis(session.analysis()) {
    connect(&session, &Session::analysis_changed, this, [this, &session] {
        beginResetModel();
        m_analysis = session.analysis();
        endResetModel();
    });
}

int PlanModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() || !m_analysis ? 0 : static_cast<int>(m_analysis->plan.lines.size());
}
int PlanModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : Count; }
int PlanModel::part_at(int row) const {
    return row < 0 || row >= rowCount() ? -1 : m_analysis->plan.lines[static_cast<std::size_t>(row)].part;
}

QVariant PlanModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const auto& line = m_analysis->plan.lines[static_cast<std::size_t>(index.row())];
    const auto& part = m_analysis->replay.board.part(line.part);
    if (role == Qt::FontRole && index.column() == Part) {
        QFont font(QStringLiteral("B612"));
        font.setBold(true);
        font.setStrikeOut(line.done);
        return font;
    }
    if (role == Qt::ToolTipRole && index.column() == Rules) {
        QStringList rules;
        for (const auto& c : line.checks)
            rules << (c.pass ? QStringLiteral("✓ ") : QStringLiteral("✗ ")) + qs(wording::rule_title(c.rule) + ": " + wording::rule(c));
        return rules.join(QLatin1Char('\n'));
    }
    if (role == Qt::TextAlignmentRole && (index.column() == Price || index.column() == Stage))
        return int(Qt::AlignRight | Qt::AlignVCenter);
    if (role != Qt::DisplayRole) return {};
    switch (index.column()) {
    case Part:
        return qs(part.assumed ? wording::part_role(part) : wording::part_title(part));
    case Reason: {
        const QString reason = qs(wording::replace_reason(m_analysis->replay.board, line));
        return line.polarity && !line.done ? tr("polarity! %1").arg(reason) : reason; // never what a narrow column cuts
    }
    case Fit:
        if (line.resolder) return line.done ? tr("done") : tr("solder");
        return line.done ? tr("fitted") : line.choice ? qs(line.choice->id + "  " + nominal_text(line.choice->part)) : tr("to be ordered");
    case Rules: {
        if (line.resolder) return {};
        QStringList words;
        for (const auto& c : line.checks)
            if (!c.pass) words << QStringLiteral("✗ ") + qs(wording::rule_title(c.rule) + " " + wording::rule(c));
        if (!words.isEmpty()) return words.join(QStringLiteral(", "));
        for (const auto& c : line.checks)
            if (c.need != 0) words << qs(wording::rule(c)).section(QStringLiteral(" for "), 0, 0); // what is needed stands in the tool tip
        return words.isEmpty() ? (line.choice ? tr("✓") : tr("nothing like it in the drawer"))
                               : QStringLiteral("✓ ") + words.join(QStringLiteral(", "));
    }
    case Price:
        return line.choice ? QString::number(line.choice->price, 'f', 2) : QStringLiteral("–");
    case Stage:
        return line.stage;
    default:
        return {};
    }
}

QVariant PlanModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role == Qt::TextAlignmentRole)
        return int((section == Price || section == Stage ? Qt::AlignRight : Qt::AlignLeft) | Qt::AlignVCenter);
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
    static const char* names[] = {"Replace", "Why", "By", "Rules passed with", "EUR", "Stage"};
    return tr(names[section]);
}

} // namespace ohmo
