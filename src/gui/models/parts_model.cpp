// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/models/parts_model.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/nominal.h"
#include "gui/text.h"
#include "job/traced.h"
#include "report/wording.h"

#include <QFont>

namespace ohmo {

namespace {

QString how_known(const Part& part) {
    switch (part.known) {
    case HowKnown::Recognised:
        return PartsModel::tr("Assumed by the blueprint and recognised on the board.");
    case HowKnown::Corrected:
        return PartsModel::tr("Corrected: the board has it otherwise than was assumed or written.");
    case HowKnown::Found:
        return PartsModel::tr("Found while tracing.");
    case HowKnown::File:
        break;
    }
    return {};
}

} // namespace

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
    if (role == Qt::ToolTipRole)
        return part.assumed ? tr("Assumed by the blueprint. Write its printed ref or value here once you have seen it.") : how_known(part);
    if (role != Qt::DisplayRole && role != Qt::EditRole) return {};
    switch (index.column()) {
    case Ref:
        return part.assumed ? (role == Qt::EditRole ? QString() : tr("not seen")) : qs(part.ref);
    case Role:
        return role == Qt::EditRole ? qs(std::string(kind_info(part.kind).name)) : qs(wording::part_role(part));
    case Value:
        return role == Qt::EditRole ? qs(part.value) : qs(nominal_text(part));
    case Rating: {
        QStringList words;
        if (part.volts && (role == Qt::EditRole || !is_capacitor(part.kind))) words << qs(format_nominal(*part.volts, "V"));
        if (part.watts) words << qs(format_nominal(*part.watts, "W"));
        if (part.amps) words << qs(format_nominal(*part.amps, "A"));
        if (part.celsius) words << QStringLiteral("%1 °C").arg(*part.celsius);
        return words.join(QLatin1Char(' '));
    }
    case Stage:
        return qs(part.stage);
    case Nets: {
        QStringList nets;
        const auto one = role == Qt::EditRole ? QStringLiteral("%1=%2") : QStringLiteral("%1 %2");
        for (const auto& pin : part.pins)
            nets << one.arg(qs(pin.role), pin.net == own_net(part.ref, pin.role) && role != Qt::EditRole ? tr("?") : qs(pin.net));
        return nets.join(role == Qt::EditRole ? QStringLiteral(" ") : QStringLiteral(", "));
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
    const auto usual = QAbstractTableModel::flags(index);
    return index.isValid() ? usual | Qt::ItemIsEditable : usual;
}

bool PartsModel::setData(const QModelIndex& index, const QVariant& value, int role) {
    if (role != Qt::EditRole || !index.isValid()) return false;
    const Part part = m_session.replay().board.part(index.row());
    const QString before = data(index, Qt::EditRole).toString();
    const std::string text = ss(value.toString().trimmed());
    if (text == ss(before) && !(part.assumed && index.column() == Value)) return false;
    switch (index.column()) {
    case Ref:
        return write_ref(part, text);
    case Value:
        return write_value(part, text);
    case Rating:
        return write_rating(part, text);
    case Nets:
        return write_pins(part, text);
    case Role: {
        PartEdit e;
        e.ref = part.ref;
        e.kind = kind_from_name(text);
        if (!e.kind) {
            Q_EMIT refused(qs(wording::problem({ProblemKind::UnknownPartKind, {}, text, {}, 0, false})));
            return false;
        }
        return trace(std::move(e));
    }
    case Stage: {
        PartEdit e;
        e.ref = part.ref;
        e.stage = text;
        return trace(std::move(e));
    }
    default:
        return false;
    }
}

bool PartsModel::log(const Entry& entry) {
    const auto problems = m_logbook.log(entry);
    if (has_errors(problems)) Q_EMIT refused(qs(wording::problem(problems.front())));
    return !has_errors(problems);
}

bool PartsModel::trace(PartEdit edit) { return log(trace_entry({std::move(edit)})); }

bool PartsModel::write_ref(const Part& part, const std::string& text) {
    if (text.empty() || text == part.ref) return false;
    if (const auto other = m_session.replay().board.find_part(text); other && m_session.replay().board.part(*other).ref != part.ref) {
        Q_EMIT refused(tr("%1 is already on the board; every ref stands for one part.").arg(qs(text)));
        return false;
    }
    if (part.assumed) {
        Entry e;
        e.act = Do::Recognise;
        e.part = part.ref;
        e.ref = text;
        return log(e);
    }
    PartEdit e;
    e.ref = part.ref;
    e.new_ref = text;
    return trace(std::move(e));
}

bool PartsModel::write_value(const Part& part, const std::string& text) {
    if (text.empty()) return false;
    const auto readings = value_readings(part.kind, text);
    if (readings.empty()) {
        Part wrong = part;
        wrong.value = text;
        const auto n = nominal_value(wrong);
        Q_EMIT refused(tr("“%1” cannot be read as a value; write it like %2.").arg(qs(text), n ? QString() : qs(n.problem().expected)));
        return false;
    }
    bool done = false;
    if (part.assumed) {
        Entry e;
        e.act = Do::Recognise;
        e.part = part.ref;
        e.value_text = readings.front().value;
        e.volts = readings.front().volts;
        done = log(e);
    } else {
        PartEdit e;
        e.ref = part.ref;
        e.value = readings.front().value;
        e.volts = readings.front().volts;
        done = trace(std::move(e));
    }
    if (done && readings.size() > 1) Q_EMIT ambiguous(qs(part.ref), readings);
    return done;
}

bool PartsModel::write_rating(const Part& part, const std::string& text) {
    PartEdit e;
    e.ref = part.ref;
    const auto words = split_words(replaced(text, "°", ""));
    for (std::size_t i = 0; i < words.size(); ++i) {
        std::string word = words[i];
        if (i + 1 < words.size() && word.find_first_not_of("0123456789.,kmu") == std::string::npos) word += words[++i]; // "400 V"
        const auto figure = parse_quantity(word.substr(0, word.size() - 1));
        const char unit = word.empty() ? ' ' : word.back();
        auto* into = unit == 'V' ? &e.volts : unit == 'A' ? &e.amps : unit == 'W' ? &e.watts : unit == 'C' ? &e.celsius : nullptr;
        if (into == nullptr || !figure) {
            Q_EMIT refused(tr("“%1” is no rating; write it like 400V 2A 0.25W 105C.").arg(qs(word)));
            return false;
        }
        *into = *figure;
    }
    e.unrated = (part.volts && !e.volts) || (part.amps && !e.amps) || (part.watts && !e.watts) || (part.celsius && !e.celsius);
    return trace(std::move(e));
}

bool PartsModel::write_pins(const Part& part, const std::string& text) {
    PartEdit e;
    e.ref = part.ref;
    for (const auto& word : split_words(replaced(text, ",", " "))) {
        const auto sign = word.find('=');
        if (sign == std::string::npos) {
            Q_EMIT refused(tr("“%1” is no wire; write pin=net, such as %2=HV.")
                               .arg(qs(word), part.pins.empty() ? QStringLiteral("1") : qs(part.pins.front().role)));
            return false;
        }
        e.pins.emplace_back(word.substr(0, sign), word.substr(sign + 1));
    }
    return trace(std::move(e));
}

} // namespace ohmo
