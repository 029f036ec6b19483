// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/models/parts_model.h"

#include "base/engineering.h"
#include "board/nominal.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QFont>

namespace ohmo {

PartsModel::PartsModel(Session& session, Logbook& logbook, QObject* parent)
    : QAbstractTableModel(parent), m_session(session), m_logbook(logbook) {
    connect(&session, &Session::job_changed, this, [this] {
        beginResetModel();
        endResetModel();
    });
}

int PartsModel::rowCount(const QModelIndex& parent) const {
    return parent.isValid() ? 0 : static_cast<int>(m_session.replay().board.parts.size());
}
int PartsModel::columnCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : Count; }

QVariant PartsModel::data(const QModelIndex& index, int role) const {
    if (!index.isValid() || index.row() >= rowCount()) return {};
    const auto& part = m_session.replay().board.part(index.row());
    if (role == Qt::FontRole) {
        QFont font(QStringLiteral("B612"));
        font.setItalic(part.assumed);
        font.setBold(index.column() == Ref && !part.assumed);
        return font;
    }
    if (role == Qt::ToolTipRole && part.assumed)
        return tr("Assumed by the blueprint. Write its printed ref or value here once you have seen it.");
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    switch (index.column()) {
    case Ref:
        return part.assumed ? (role == Qt::EditRole ? QString() : tr("not seen")) : qs(part.ref);
    case Role:
        return qs(wording::part_role(part));
    case Value:
        return role == Qt::EditRole ? qs(part.value) : qs(nominal_text(part));
    case Rating: {
        QStringList words;
        if (part.watts) words << qs(format_nominal(*part.watts, "W"));
        if (part.amps) words << qs(format_nominal(*part.amps, "A"));
        if (part.celsius) words << QStringLiteral("%1 °C").arg(*part.celsius);
        return words.join(QLatin1Char(' '));
    }
    case Stage:
        return qs(part.stage);
    case Nets: {
        QStringList nets;
        for (const auto& pin : part.pins) nets << QStringLiteral("%1 %2").arg(qs(pin.role), qs(pin.net));
        return nets.join(QStringLiteral(", "));
    }
    default:
        return {};
    }
}

QVariant PartsModel::headerData(int section, Qt::Orientation orientation, int role) const {
    if (role == Qt::TextAlignmentRole) return int(Qt::AlignLeft | Qt::AlignVCenter);
    if (role != Qt::DisplayRole || orientation != Qt::Horizontal) return {};
    static const char* names[] = {"Ref", "What it is", "Value", "Rating", "Stage", "Pins and nets"};
    return tr(names[section]);
}

Qt::ItemFlags PartsModel::flags(const QModelIndex& index) const {
    auto f = QAbstractTableModel::flags(index);
    if (index.column() == Ref || index.column() == Value) f |= Qt::ItemIsEditable;
    return f;
}

bool PartsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !index.isValid()) return false;
    Part part = m_session.replay().board.part(index.row());
    const std::string text = ss(value.toString().trimmed());
    Entry e;
    e.act = Do::Recognise;
    e.part = part.ref;
    if (index.column() == Ref) {
        if (text.empty() || text == part.ref) return false;
        if (m_session.replay().board.find_part(text)) {
            Q_EMIT refused(tr("%1 is already on the board; every ref stands for one part.").arg(qs(text)));
            return false;
        }
        e.ref = text;
    } else {
        if (text.empty() || (text == part.value && !part.assumed)) return false;
        part.value = text;
        if (const auto n = nominal_value(part); !n) {
            Q_EMIT refused(tr("“%1” cannot be read as a value; write it like %2.").arg(qs(text), qs(n.problem().expected)));
            return false;
        }
        e.value_text = text;
    }
    return !has_errors(m_logbook.log(e));
}

} // namespace ohmo
