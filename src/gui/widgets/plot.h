// SPDX-License-Identifier: GPL-3.0-or-later
// A Qt chart in the house style.
#pragma once
#include "gui/theme/theme.h"

#include <QChartView>
#include <QPointF>
#include <QString>

#include <vector>

namespace ohmo {

struct PlotLine {
    QString name;
    std::vector<QPointF> points;
    QColor colour;
    bool dashed = false, dots = false;
};

struct PlotScene {
    QString x_title, y_title;
    double x_lo = 0, x_hi = 1, y_lo = 0, y_hi = 1;
    std::vector<PlotLine> lines;
};

class Plot : public QChartView {
    Q_OBJECT
public:
    /// `title`: for those who do not see it; what is drawn becomes its description.
    Plot(const char* name, const QString& title, QWidget* parent = nullptr);
    void show_scene(const PlotScene& scene, const Theme& theme);
};

} // namespace ohmo
