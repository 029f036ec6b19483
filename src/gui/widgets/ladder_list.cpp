// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/ladder_list.h"

#include "base/engineering.h"
#include "gui/text.h"
#include "report/wording.h"

#include <QPainter>
#include <QStyledItemDelegate>

namespace ohmo {
namespace {
enum Role { kState = Qt::UserRole, kDetail, kLive };
} // namespace

class LadderList::Delegate : public QStyledItemDelegate {
public:
    Delegate(const ThemeSource& theme, QObject* parent) : QStyledItemDelegate(parent), m_theme(theme) {}

    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex&) const override {
        return {100, option.fontMetrics.height() * 2 + 12};
    }

    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override {
        const Theme& t = m_theme.theme();
        const auto state = static_cast<StepState>(index.data(kState).toInt());
        p->save();
        p->setRenderHint(QPainter::Antialiasing);
        p->fillRect(option.rect, state == StepState::Current ? t.suspect_fill : t.panel);
        const QRectF r = QRectF(option.rect).adjusted(8, 3, -6, -3);
        const QPointF c(r.left() + 12, r.center().y());
        const double line = option.fontMetrics.height();
        p->setPen(QPen(t.line, 2));
        if (index.row() + 1 < index.model()->rowCount()) p->drawLine(QPointF(c.x(), c.y() + 13), QPointF(c.x(), option.rect.bottom() + 1));
        if (index.row() > 0) p->drawLine(QPointF(c.x(), option.rect.top()), QPointF(c.x(), c.y() - 13));
        const QRectF box(c.x() - 11, c.y() - 11, 22, 22);
        const bool passed = state == StepState::Passed;
        p->setPen(QPen(passed                        ? t.good
                       : state == StepState::Current ? t.suspect
                                                     : t.muted,
                       2, state == StepState::Locked ? Qt::DotLine : Qt::SolidLine));
        p->setBrush(passed ? t.good_fill : t.panel);
        p->drawRoundedRect(box, 4, 4);
        if (passed) {
            p->setPen(QPen(t.good, 2.6, Qt::SolidLine, Qt::RoundCap));
            p->drawPolyline(QPolygonF({c + QPointF(-5, 0), c + QPointF(-1.5, 4), c + QPointF(6, -5)}));
        } else {
            p->setPen(state == StepState::Locked ? t.muted : t.text);
            p->drawText(box, Qt::AlignCenter, QString::number(index.row() + 1));
        }
        QFont bold = option.font;
        bold.setBold(state == StepState::Current || passed);
        p->setFont(bold);
        p->setPen(state == StepState::Locked ? t.muted : t.text);
        const QString mains = index.data(kLive).toBool() ? tr("MAINS") : QString();
        const double room = r.width() - 34, tag = mains.isEmpty() ? 0 : option.fontMetrics.horizontalAdvance(mains) + 6;
        p->drawText(QRectF(r.left() + 32, r.top(), room, line), Qt::AlignLeft | Qt::AlignVCenter,
                    QFontMetrics(bold).elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight, static_cast<int>(room)));
        p->setFont(option.font);
        p->setPen(t.bad);
        p->drawText(QRectF(r.right() - tag, r.top() + line + 1, tag, line), Qt::AlignRight | Qt::AlignVCenter, mains);
        p->setPen(t.muted);
        p->drawText(QRectF(r.left() + 32, r.top() + line + 1, room - tag, line), Qt::AlignLeft | Qt::AlignVCenter,
                    option.fontMetrics.elidedText(index.data(kDetail).toString(), Qt::ElideRight, static_cast<int>(room - tag)));
        p->restore();
    }

private:
    const ThemeSource& m_theme;
};

LadderList::LadderList(const ThemeSource& theme, QWidget* parent) : QListWidget(parent) {
    setObjectName(QStringLiteral("ladder"));
    setAccessibleName(tr("Power-up ladder"));
    setItemDelegate(new Delegate(theme, this));
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setFrameShape(QFrame::NoFrame);
    setSelectionMode(QAbstractItemView::NoSelection);
    connect(&theme, &ThemeSource::changed, viewport(), qOverload<>(&QWidget::update));
}

void LadderList::show_ladder(const Ladder& ladder) {
    clear();
    for (const auto& step : ladder.steps) {
        auto* item = new QListWidgetItem(qs(wording::ladder_step(step)));
        item->setData(kState, static_cast<int>(step.state));
        item->setData(kDetail, qs(wording::ladder_detail(step)));
        item->setData(kLive, step.live);
        item->setData(Qt::AccessibleTextRole, qs(wording::ladder_step(step)) + QStringLiteral(", ") + qs(step_state_name(step.state)));
        addItem(item);
    }
    if (ladder.current < count()) scrollToItem(item(ladder.current), QAbstractItemView::PositionAtCenter);
}

FigureBar::FigureBar(const Figure& figure, std::optional<double> read, const ThemeSource& theme, QWidget* parent)
    : QWidget(parent), m_figure(figure), m_read(read), m_theme(theme) {
    const std::string name = wording::figure_name(figure);
    setAccessibleName(qs(name));
    setAccessibleDescription(
        tr("expected %1 to %2").arg(qs(format_quantity(figure.lo, figure.unit)), qs(format_quantity(figure.hi, figure.unit))));
}

void FigureBar::paintEvent(QPaintEvent*) {
    const Theme& t = m_theme.theme();
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    const double line = fontMetrics().height();
    const bool inside = m_read && *m_read >= m_figure.lo && *m_read <= m_figure.hi;
    p.setPen(t.text);
    p.drawText(QRectF(0, 0, width(), line), Qt::AlignLeft | Qt::AlignVCenter, qs(wording::figure_name(m_figure)));
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.setPen(!m_read ? t.muted : inside ? t.good : t.bad);
    p.drawText(QRectF(0, 0, width(), line), Qt::AlignRight | Qt::AlignVCenter,
               !m_read ? tr("not read") : (inside ? tr("%1 ✓") : tr("%1 outside")).arg(qs(format_quantity(*m_read, m_figure.unit))));
    p.setFont(font());
    // The band takes the middle of the bar.
    const double span = std::max(m_figure.hi - m_figure.lo, 1e-9);
    const double from = m_figure.lo - 0.6 * span, to = m_figure.hi + 0.6 * span;
    const QRectF bar(0, line + 4, width(), 7);
    const auto place = [&](double v) { return bar.left() + bar.width() * std::clamp((v - from) / (to - from), 0.0, 1.0); };
    p.setPen(Qt::NoPen);
    p.setBrush(t.inset);
    p.drawRect(bar);
    p.setBrush(t.good);
    p.drawRect(QRectF(place(m_figure.lo), bar.top(), place(m_figure.hi) - place(m_figure.lo), bar.height()));
    if (m_read) {
        p.setPen(QPen(t.text, 3));
        p.drawLine(QPointF(place(*m_read), bar.top() - 3), QPointF(place(*m_read), bar.bottom() + 3));
    }
    p.setPen(t.muted);
    p.drawText(QRectF(0, bar.bottom() + 2, width(), line), Qt::AlignLeft | Qt::AlignVCenter,
               tr("expect %1 to %2").arg(qs(format_quantity(m_figure.lo, m_figure.unit)), qs(format_quantity(m_figure.hi, m_figure.unit))));
}

} // namespace ohmo
