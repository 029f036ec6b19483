// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/suspect_list.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QPainter>
#include <QStyledItemDelegate>

#include <cmath>

namespace ohmo {
namespace {

enum Role { kPart = Qt::UserRole, kBad, kChange, kFault };
constexpr double kShownAbove = 0.005;
constexpr int kMost = 14;

} // namespace

class SuspectList::Delegate : public QStyledItemDelegate {
public:
    Delegate(const ThemeSource& theme, QObject* parent) : QStyledItemDelegate(parent), m_theme(theme) {}

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        return {100, option.fontMetrics.height() + 17};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& t = m_theme.theme();
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        const bool chosen = option.state & QStyle::State_Selected;
        p->fillRect(option.rect, chosen ? t.inset : t.panel);
        if (chosen) p->fillRect(QRect(option.rect.left(), option.rect.top(), 3, option.rect.height()), t.accent);
        const QRectF r = QRectF(option.rect).adjusted(9, 3, -6, -3);
        const double line = option.fontMetrics.height();
        QFont bold = option.font;
        bold.setBold(true);
        p->setFont(bold);
        p->setPen(t.text);
        const double bad = index.data(kBad).toDouble(), change = index.data(kChange).toDouble();
        const bool moved = std::fabs(change) >= 0.5;
        const double right = 50 + (moved ? 40 : 0), room = r.width() - right - 4;
        const QString ref = index.data(Qt::DisplayRole).toString();
        p->drawText(QRectF(r.left(), r.top(), room, line), Qt::AlignLeft | Qt::AlignVCenter,
                    QFontMetricsF(bold).elidedText(ref, Qt::ElideRight, room));
        const double used = std::max(34.0, QFontMetricsF(bold).horizontalAdvance(ref) + 8);
        p->drawText(QRectF(r.right() - right, r.top(), 50, line), Qt::AlignRight | Qt::AlignVCenter, qs(format_share(bad)));
        p->setFont(option.font);
        p->drawText(QRectF(r.left() + used, r.top(), room - used, line), Qt::AlignLeft | Qt::AlignVCenter,
                    option.fontMetrics.elidedText(index.data(kFault).toString(), Qt::ElideRight, static_cast<int>(room - used)));
        if (moved) {
            const QString arrow = change > 0 ? QStringLiteral("▲") : QStringLiteral("▼");
            p->setPen(change > 0 ? t.bad : t.good);
            p->drawText(QRectF(r.right() - 38, r.top(), 38, line), Qt::AlignRight | Qt::AlignVCenter,
                        arrow + QString::number(std::lround(std::fabs(change))));
        }
        const QRectF bar(r.left(), r.bottom() - 3, r.width(), 4);
        p->setPen(Qt::NoPen);
        p->setBrush(t.inset.darker(t.dark ? 90 : 106));
        p->drawRect(bar);
        p->setBrush(bad >= 0.9 ? t.bad : bad >= 0.1 ? t.suspect : t.muted);
        p->drawRect(QRectF(bar.topLeft(), QSizeF(bar.width() * bad, bar.height())));
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
        if (item != nullptr && !m_filling) m_selection.select(item->data(kPart).toInt());
    });
    connect(&selection, &Selection::changed, this, [this](int part) {
        for (int i = 0; i < count(); ++i)
            if (item(i)->data(kPart).toInt() == part) setCurrentRow(i);
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
        auto* item = new QListWidgetItem(qs(part.assumed ? wording::part_role(part) : part.ref));
        item->setData(kPart, b.part);
        item->setData(kBad, b.bad);
        item->setData(kChange, m_before.contains(b.part) ? m_now[b.part] - m_before[b.part] : 0.0);
        item->setData(kFault, qs(wording::mode(part.kind, b.leading.mode)) + QStringLiteral(" · ") + qs(wording::proof(b.proof)));
        item->setToolTip((part.assumed ? tr("%1, assumed, not seen yet").arg(qs(wording::part_role(part))) : qs(wording::part_role(part))) +
                         QLatin1Char('\n') + qs(wording::proof_in_full(b.proof)));
        item->setData(Qt::AccessibleTextRole,
                      qs(wording::fault(board, b.leading) + ", " + format_share(b.bad) + ", " + wording::proof(b.proof)));
        addItem(item);
        if (b.part == m_selection.part()) setCurrentItem(item);
    }
    m_filling = false;
}

} // namespace ohmo
