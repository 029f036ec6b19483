// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/theme/bench_style.h"

#include <QPainter>
#include <QPainterPath>
#include <QStyleFactory>
#include <QStyleOption>

namespace ohmo {

BenchStyle::BenchStyle() : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))) {}

// An empty box in the colour of text, filled with a tick where it is set.
void BenchStyle::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p, const QWidget* widget) const {
    if (element != PE_IndicatorCheckBox) return QProxyStyle::drawPrimitive(element, option, p, widget);
    const bool on = option->state.testFlag(State_On), enabled = option->state.testFlag(State_Enabled);
    const auto& palette = option->palette;
    const QColor edge = palette.color(enabled ? QPalette::Normal : QPalette::Disabled, QPalette::WindowText);
    const QColor fill = on && enabled ? palette.color(QPalette::Highlight) : palette.color(QPalette::Base);
    p->save();
    p->setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(option->rect).adjusted(1, 1, -1, -1);
    p->setPen(QPen(on && enabled ? fill : edge, 1.2));
    p->setBrush(fill);
    p->drawRoundedRect(box, 2, 2);
    if (on) {
        p->setPen(QPen(enabled ? palette.color(QPalette::HighlightedText) : edge, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p->setBrush(Qt::NoBrush);
        const auto at = [&](double x, double y) { return QPointF(box.left() + x * box.width(), box.top() + y * box.height()); };
        QPainterPath tick(at(0.22, 0.52));
        tick.lineTo(at(0.42, 0.74));
        tick.lineTo(at(0.80, 0.26));
        p->drawPath(tick);
    }
    p->restore();
}

} // namespace ohmo
