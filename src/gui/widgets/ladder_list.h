// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/theme/theme.h"
#include "powerup/ladder.h"

#include <QListWidget>

namespace ohmo {

/// The steps of the ladder with their state.
class LadderList : public QListWidget {
    Q_OBJECT
public:
    explicit LadderList(const ThemeSource& theme, QWidget* parent = nullptr);
    void show_ladder(const Ladder& ladder);

private:
    class Delegate;
};

/// One expected figure: its band and where the last reading fell.
class FigureBar : public QWidget {
    Q_OBJECT
public:
    FigureBar(const Figure& figure, std::optional<double> read, const ThemeSource& theme, QWidget* parent = nullptr);
    QSize sizeHint() const override { return {240, fontMetrics().height() * 2 + 18}; }
    QSize minimumSizeHint() const override { return {120, sizeHint().height()}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    Figure m_figure;
    std::optional<double> m_read;
    const ThemeSource& m_theme;
};

} // namespace ohmo
