// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/parts_table.h"

#include "gui/models/cell_editors.h"
#include "gui/text.h"
#include "gui/widgets/yielding.h"
#include "job/parts_rows.h"
#include "job/traced.h"
#include "report/wording.h"

#include <QClipboard>
#include <QGuiApplication>
#include <QHeaderView>
#include <QKeyEvent>

namespace ohmo {
namespace {

QString next_ref(const Board& board, const std::string& ref) {
    const auto digits = ref.find_last_not_of("0123456789") + 1;
    if (digits >= ref.size()) return qs(ref + "b");
    int number = std::stoi(ref.substr(digits, 6));
    std::string next;
    do next = ref.substr(0, digits) + std::to_string(++number);
    while (board.find_part(next));
    return qs(next);
}

} // namespace

PartsTable::PartsTable(const Collaborators& with, QWidget* parent)
    : QTableView(parent), m_with(with), m_model(new PartsModel(with.session, with.logbook, this)),
      m_filter(new QSortFilterProxyModel(this)) {
    setObjectName(QStringLiteral("parts-table"));
    setAccessibleName(tr("Parts of the board"));
    m_filter->setSourceModel(m_model);
    m_filter->setFilterKeyColumn(-1);
    m_filter->setFilterCaseSensitivity(Qt::CaseInsensitive);
    setModel(m_filter);
    setSelectionBehavior(QAbstractItemView::SelectRows);
    setSelectionMode(QAbstractItemView::SingleSelection);
    setAlternatingRowColors(true);
    setShowGrid(false);
    verticalHeader()->hide();
    verticalHeader()->setDefaultSectionSize(26);
    share_columns(*this, {80, 190, 120, 110, 90, 150});
    const auto nets = [this] {
        QStringList out;
        for (const auto& net : m_with.session.replay().board.nets) out << qs(net);
        return out;
    };
    setItemDelegateForColumn(PartsModel::Role, new ChoiceCells(
                                                   [] {
                                                       QStringList out;
                                                       for (const auto& k : all_kinds()) out << qs(std::string(k.name));
                                                       return out;
                                                   },
                                                   this));
    setItemDelegateForColumn(PartsModel::Stage, new ChoiceCells(
                                                    [] {
                                                        QStringList out;
                                                        for (const auto& s : stage_order()) out << qs(s);
                                                        return out;
                                                    },
                                                    this));
    setItemDelegateForColumn(PartsModel::Nets, new WordCells(nets, this));
    QObject::connect(selectionModel(), &QItemSelectionModel::currentRowChanged, this, [this](const QModelIndex& at) {
        if (at.isValid()) m_with.selection.select(m_filter->mapToSource(at).row());
    });
    QObject::connect(&with.selection, &Selection::changed, this, [this](int part) {
        const auto at = m_filter->mapFromSource(m_model->index(part, 0));
        if (at.isValid() && at.row() != currentIndex().row()) setCurrentIndex(at);
    });
    QObject::connect(m_model, &PartsModel::refused, this, [this](const QString& why) { Q_EMIT said(why, false); });
}

const Part* PartsTable::current() const {
    const auto at = currentIndex();
    return at.isValid() ? &m_with.session.replay().board.part(m_filter->mapToSource(at).row()) : nullptr;
}

void PartsTable::begin_part() { m_with.write_bench_line(QStringLiteral("+ ")); }

void PartsTable::double_part() {
    if (const Part* part = current())
        m_with.write_bench_line(QStringLiteral("double %1 %2 ").arg(qs(part->ref), next_ref(m_with.session.replay().board, part->ref)));
}

void PartsTable::strike_part() {
    if (const Part* part = current()) strike(part->ref);
}

void PartsTable::strike(const std::string& part) {
    PartEdit edit;
    edit.ref = part;
    edit.gone = true;
    const QString ref = qs(part);
    const auto problems = m_with.logbook.log(trace_entry({edit}));
    if (has_errors(problems))
        Q_EMIT said(qs(wording::problem(problems.front())), false);
    else
        Q_EMIT said(tr("%1 is off the board; Undo brings it back.").arg(ref), true);
}

void PartsTable::paste_rows() {
    const auto rows = parse_parts_rows(m_with.session.replay().board, ss(QGuiApplication::clipboard()->text()));
    if (!rows) {
        Q_EMIT said(tr("Nothing was pasted. %1").arg(qs(wording::problem(rows.problem()))), false);
        return;
    }
    const auto problems = m_with.logbook.log(trace_entry(rows->edits));
    if (has_errors(problems)) {
        Q_EMIT said(tr("Nothing was pasted. %1").arg(qs(wording::problem(problems.front()))), false);
        return;
    }
    QString text = tr("%1 rows taken; Undo takes them back together.").arg(rows->edits.size());
    if (!rows->warnings.empty()) text += QLatin1Char(' ') + tr("Left out: %1").arg(qs(rows->warnings.front().found));
    if (rows->warnings.size() > 1) text += tr(" and %1 more").arg(rows->warnings.size() - 1);
    Q_EMIT said(text, rows->warnings.empty());
}

void PartsTable::keyPressEvent(QKeyEvent* event) {
    if (event->matches(QKeySequence::Paste)) return paste_rows();
    if (event->key() == Qt::Key_Insert) return event->modifiers() & Qt::ControlModifier ? double_part() : begin_part();
    if (event->key() == Qt::Key_Delete) return strike_part();
    QTableView::keyPressEvent(event);
}

} // namespace ohmo
