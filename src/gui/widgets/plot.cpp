// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/plot.h"

#include <QApplication>
#include <QChart>
#include <QGraphicsLayout>
#include <QLegendMarker>
#include <QLineSeries>
#include <QScatterSeries>
#include <QValueAxis>

namespace ohmo {

Plot::Plot(const char* name, const QString& title, QWidget* parent) : QChartView(parent) {
    setAccessibleName(title);
    setObjectName(QString::fromLatin1(name));
    setRenderHint(QPainter::Antialiasing);
    setFrameShape(QFrame::NoFrame);
    chart()->setMargins(QMargins(2, 2, 2, 2));
    chart()->layout()->setContentsMargins(0, 0, 0, 0);
    chart()->setBackgroundRoundness(0);
    chart()->legend()->setAlignment(Qt::AlignTop);
}

void Plot::show_scene(const PlotScene& scene, const Theme& theme) {
    QStringList drawn;
    for (const auto& line : scene.lines) drawn << line.name;
    setAccessibleDescription(tr("%1 by %2: %3").arg(scene.y_title, scene.x_title, drawn.join(QStringLiteral(", "))));
    chart()->removeAllSeries();
    for (auto* axis : chart()->axes()) chart()->removeAxis(axis);
    chart()->setBackgroundBrush(theme.panel);
    setBackgroundBrush(theme.panel);
    chart()->legend()->setLabelColor(theme.text);
    chart()->legend()->setFont(QApplication::font());
    setMinimumHeight(QFontMetrics(QApplication::font()).height() * 10); // or the axes lose their figures
    auto* x = new QValueAxis;
    auto* y = new QValueAxis;
    x->setRange(scene.x_lo, scene.x_hi);
    y->setRange(scene.y_lo, scene.y_hi);
    x->setTitleText(scene.x_title);
    y->setTitleText(scene.y_title);
    for (auto* axis : {x, y}) {
        axis->setLabelsColor(theme.muted);
        axis->setTitleBrush(theme.muted);
        axis->setGridLineColor(theme.inset);
        axis->setLinePenColor(theme.line);
        axis->setTickCount(6);
        axis->setLabelsFont(QApplication::font());
        axis->setTitleFont(QApplication::font());
    }
    x->setLabelFormat(QStringLiteral("%g"));
    y->setLabelFormat(QStringLiteral("%g"));
    chart()->addAxis(x, Qt::AlignBottom);
    chart()->addAxis(y, Qt::AlignLeft);
    for (const auto& line : scene.lines) {
        QXYSeries* series = nullptr;
        if (line.dots) {
            auto* dots = new QScatterSeries;
            dots->setMarkerSize(10);
            dots->setBorderColor(theme.panel);
            dots->setColor(line.colour);
            series = dots;
        } else {
            series = new QLineSeries;
            series->setPen(QPen(line.colour, 2.2, line.dashed ? Qt::DashLine : Qt::SolidLine));
        }
        series->setName(line.name);
        for (const auto& point : line.points) series->append(point);
        chart()->addSeries(series);
        series->attachAxis(x);
        series->attachAxis(y);
        if (line.name.isEmpty())
            for (auto* marker : chart()->legend()->markers(series)) marker->setVisible(false);
    }
}

} // namespace ohmo
