// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/suspect_list.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

enum Role { kPart = Qt::UserRole, kBad, kChange, kFault, kProof };
constexpr double kShownAbove = 0.005;
constexpr int kMost = 14;
constexpr double kCertain = 0.985;

} // namespace

class SuspectList::Delegate : public QStyledItemDelegate {
public:
    Delegate(const ThemeSource& theme, QObject* parent) : QStyledItemDelegate(parent), m_theme(theme) {}

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        return {100, option.fontMetrics.height() + 12};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& t = m_theme.theme();
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const QRectF row = QRectF(option.rect).adjusted(1, 1, -1, -2);
        if (index.data(kPart).toInt() < 0) { // what is not listed, in words
            p->setPen(t.muted);
            p->drawText(row.adjusted(8, 0, -8, 0), Qt::AlignLeft | Qt::AlignVCenter,
                        option.fontMetrics.elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight, option.rect.width() - 18));
            p->restore();
            return;
        }
        const double bad = index.data(kBad).toDouble(), change = index.data(kChange).toDouble();
        p->setPen(Qt::NoPen);
        p->setBrush(t.inset);
        p->drawRoundedRect(row, 3, 3);
        p->setBrush(bad >= 0.5 ? t.bad_fill : bad >= 0.1 ? t.suspect_fill : t.line);
        p->drawRoundedRect(QRectF(row.topLeft(), QSizeF(std::max(4.0, row.width() * bad), row.height())), 3, 3);
        if (option.state & QStyle::State_Selected) {
            p->setBrush(Qt::NoBrush);
            p->setPen(QPen(t.accent, 2));
            p->drawRoundedRect(row.adjusted(1, 1, -1, -1), 3, 3);
        }
        const QRectF r = row.adjusted(8, 0, -7, 0);
        QFont bold = option.font;
        bold.setBold(true);
        const QFontMetricsF heavy(bold);
        const QString share = bad > kCertain ? QObject::tr("certain") : qs(format_share(bad));
        const bool moved = std::fabs(change) >= 0.5 && bad <= kCertain;
        const QString step =
            moved ? (change > 0 ? QStringLiteral("▲") : QStringLiteral("▼")) + QString::number(std::lround(std::fabs(change))) : QString();
        p->setFont(bold);
        p->setPen(t.text);
        p->drawText(r, Qt::AlignRight | Qt::AlignVCenter, share);
        double right = r.right() - std::max(heavy.horizontalAdvance(share), heavy.horizontalAdvance(QStringLiteral("100 %"))) - 8;
        QFont small = option.font;
        small.setPixelSize(std::max(11, option.font.pixelSize() * 11 / 13));
        p->setFont(small);
        if (moved) {
            p->drawText(QRectF(r.left(), r.top(), right - r.left(), r.height()), Qt::AlignRight | Qt::AlignVCenter, step);
            right -= QFontMetricsF(small).horizontalAdvance(step) + 8;
        }
        const QString ref = index.data(Qt::DisplayRole).toString();
        const double first = std::max(40.0, heavy.horizontalAdvance(ref) + 9),
                     fault = option.fontMetrics.horizontalAdvance(index.data(kFault).toString());
        QString proof = index.data(kProof).toString(); // gives way to what is wrong
        if (right - r.left() - QFontMetricsF(small).horizontalAdvance(proof) - 8 <
            first + std::min(fault, 7.0 * option.fontMetrics.averageCharWidth()))
            proof.clear();
        p->drawText(QRectF(r.left(), r.top(), right - r.left(), r.height()), Qt::AlignRight | Qt::AlignVCenter, proof);
        right -= QFontMetricsF(small).horizontalAdvance(proof) + 8;
        p->setFont(bold);
        const double room = right - r.left();
        p->drawText(QRectF(r.left(), r.top(), room, r.height()), Qt::AlignLeft | Qt::AlignVCenter,
                    heavy.elidedText(ref, Qt::ElideRight, room));
        const double used = first;
        p->setFont(option.font);
        if (room - used > 20)
            p->drawText(QRectF(r.left() + used, r.top(), room - used, r.height()), Qt::AlignLeft | Qt::AlignVCenter,
                        option.fontMetrics.elidedText(index.data(kFault).toString(), Qt::ElideRight, static_cast<int>(room - used)));
        p->restore();
    }

private:
    const ThemeSource& m_theme;
};

SuspectList::SuspectList(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent)
    : QListWidget(parent), m_session(session), m_selection(selection) {
    setObjectName(QStringLiteral("suspects"));
    setAccessibleName(tr("Suspects"));
    setItemDelegate(new Delegate(theme, this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    connect(&session, &Session::analysis_changed, this, &SuspectList::refresh);
    connect(&theme, &ThemeSource::changed, viewport(), qOverload<>(&QWidget::update));
    connect(this, &QListWidget::currentItemChanged, this, [this](QListWidgetItem* item) {
        if (item != nullptr && !m_filling && item->data(kPart).toInt() >= 0) m_selection.select(item->data(kPart).toInt());
    });
    connect(&selection, &Selection::changed, this, [this](int part) {
        for (int i = 0; i < count(); ++i)
            if (part >= 0 && item(i)->data(kPart).toInt() == part) setCurrentRow(i);
    });
    refresh();
}

void SuspectList::refresh() {
    const auto& a = m_session.analysis();
    if (!a) return clear();
    m_filling = true;
    const auto& board = a->replay.board;
    if (a->job.journal.size() != m_entries) {
        m_before = m_now;
        m_entries = a->job.journal.size();
    }
    m_now.clear();
    for (const auto& b : a->assessment.parts) m_now[b.part] = b.bad * 100;
    clear();
    for (const auto& b : a->assessment.parts) {
        if (b.bad < kShownAbove || count() >= kMost) break;
        const auto& part = board.part(b.part);
        auto* item = new QListWidgetItem(qs(wording::part_name(part)));
        item->setData(kPart, b.part);
        item->setData(kBad, b.bad);
        item->setData(kChange, m_before.contains(b.part) ? m_now[b.part] - m_before[b.part] : 0.0);
        item->setData(kFault, qs(wording::mode(part.kind, b.leading.mode)));
        item->setData(kProof, qs(wording::proof_short(b.proof)));
        item->setToolTip((part.assumed ? tr("%1, assumed, not seen yet").arg(qs(wording::part_role(part))) : qs(wording::part_role(part))) +
                         QLatin1Char('\n') + qs(wording::proof_in_full(b.proof)));
        item->setData(Qt::AccessibleTextRole,
                      qs(wording::fault(board, b.leading) + ", " + format_share(b.bad) + ", " + wording::proof(b.proof)));
        addItem(item);
        if (b.part == m_selection.part()) setCurrentItem(item);
    }
    rest(*a);
    m_filling = false;
}

// Renewed parts by name, and how many are not listed.
void SuspectList::rest(const Analysis& a) {
    const auto say = [&](const QString& text) {
        auto* item = new QListWidgetItem(text);
        item->setData(kPart, -1);
        item->setFlags(Qt::NoItemFlags);
        addItem(item);
    };
    QStringList renewed;
    for (std::size_t i = 0; i < a.standing.size(); ++i)
        if (a.standing[i] == Standing::Renewed) renewed << qs(a.replay.board.part(static_cast<int>(i)).ref);
    auto fine = std::count(a.standing.begin(), a.standing.end(), Standing::Good);
    for (int row = 0; row < count(); ++row) // those are not among the rest
        if (a.standing[static_cast<std::size_t>(item(row)->data(kPart).toInt())] == Standing::Good) --fine;
    const int more = static_cast<int>(a.assessment.parts.size()) - count() - static_cast<int>(renewed.size());
    if (more > 0) say(fine > 0 ? tr("%1 more, %2 of them read fine").arg(more).arg(fine) : tr("%1 more, less likely").arg(more));
    if (!renewed.isEmpty()) say(tr("Renewed: %1").arg(renewed.join(QStringLiteral(", "))));
}

} // namespace ohmo
