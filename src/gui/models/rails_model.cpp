// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/models/rails_model.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "job/traced.h"
#include "report/wording.h"

namespace ohmo {

RailsModel::RailsModel(Session& session, Logbook& logbook, QObject* parent)
    : QAbstractTableModel(parent), m_session(session), m_logbook(logbook) {
    connect(&session, &Session::job_changed, this, [this] {
        beginResetModel();
        endResetModel();
    });
}

int RailsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_session.replay().board.rails.size());
}
int RailsModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : Count; }

QVariant RailsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount() || (role != Qt::DisplayRole && role != Qt::EditRole)) return {};
    const auto& rail = m_session.replay().board.rails[static_cast<std::size_t>(index.row())];
    switch (index.column()) {
    case Net:
        return qs(rail.net);
    case Return:
        return qs(rail.ret);
    case Volts:
        return qs(format_nominal(rail.volts, "V"));
    case Amps:
        return qs(format_nominal(rail.amps, "A"));
    case Tolerance:
        return QStringLiteral("%1 %").arg(rail.tolerance * 100);
    default:
        return {};
    }
}

QVariant RailsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role == Qt::TextAlignmentRole) return int(Qt::AlignLeft | Qt::AlignVCenter);
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
    static const char* names[] = {"Rail", "Return", "Volts", "Amps", "Tolerance"};
    return tr(names[section]);
}

Qt::ItemFlags RailsModel::flags(const QModelIndex& index) const {
    const auto usual = QAbstractTableModel::flags(index);
    return index.isValid() ? usual | Qt::ItemIsEditable : usual;
}

bool RailsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !index.isValid() || value == data(index, Qt::EditRole)) return false;
    const Rail before = m_session.replay().board.rails[static_cast<std::size_t>(index.row())];
    Rail rail = before;
    const std::string text = ss(value.toString().trimmed());
    if (index.column() == Net) {
        rail.net = text;
    } else if (index.column() == Return) {
        rail.ret = text;
    } else {
        QString figure = value.toString().trimmed();
        if (figure.endsWith(QLatin1Char('%'))) figure.chop(1);
        const auto number = parse_quantity(ss(figure));
        if (!number) {
            Q_EMIT refused(qs(wording::problem(number.problem())));
            return false;
        }
        (index.column() == Volts  ? rail.volts
         : index.column() == Amps ? rail.amps
                                  : rail.tolerance) = index.column() == Tolerance ? *number / 100 : *number;
    }
    std::vector<BoardEdit> edits = {RailEdit{rail, false}};
    if (rail.net != before.net) edits.insert(edits.begin(), RailEdit{before, true});
    const auto problems = m_logbook.log(trace_entry(std::move(edits)));
    if (has_errors(problems)) Q_EMIT refused(qs(wording::problem(problems.front())));
    return !has_errors(problems);
}

} // namespace ohmo
