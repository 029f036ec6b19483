// SPDX-License-Identifier: GPL-3.0-or-later
// A board as one sees it from above before anything is traced: what stands on it, how large, on which side of the barrier.
#pragma once
#include "board/package.h"
#include "gui/theme/theme.h"

#include <QRectF>
#include <QWidget>

#include <vector>

namespace ohmo {

struct Sketch {
    struct Placed {
        int part;
        Package package;
        QRectF at;         ///< millimetres
        bool ring = false; ///< a rod with a ring at one end
    };
    QSizeF size; ///< millimetres
    std::vector<Placed> parts;
    double barrier = -1;   ///< left edge of the isolated side; negative where there is none
    bool on_mains = false; ///< what lies left of the barrier, or all of it
};

/// Parts side by side in working order, none over another.
Sketch sketch_board(const Board& board);

class BoardSketch : public QWidget {
    Q_OBJECT
public:
    explicit BoardSketch(const ThemeSource& theme, QWidget* parent = nullptr);
    void show_board(const Board& board);
    QSize sizeHint() const override { return {400, 190}; }
    QSize minimumSizeHint() const override { return {240, 120}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paint_part(class QPainter& p, const Sketch::Placed& placed, double k) const;

    const ThemeSource& m_theme;
    Sketch m_sketch;
};

} // namespace ohmo
