// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "advice/next_reading.h"
#include "gui/theme/theme.h"

#include <QWidget>

#include <optional>

namespace ohmo {

/// What the ruler shows: one reading, where each story expects the needle, and where it fell.
struct RulerScene {
    Quantity what = Quantity::Ohms;
    std::vector<Band> bands;
    std::vector<QString> labels; ///< by band
    struct Needle {
        double value = 0;
        bool over = false;
    };
    std::optional<Needle> needle; ///< the reading already logged here
};

/// A logarithmic scale (linear in diode mode). Bands are drawn above it, the healthy one always and hatched; over-range has a bay of its
/// own at the end.
class ReadingRuler : public QWidget {
    Q_OBJECT
public:
    explicit ReadingRuler(const ThemeSource& theme, QWidget* parent = nullptr);
    void show_scene(const RulerScene& scene);
    const RulerScene& scene() const { return m_scene; }
    QSize sizeHint() const override { return QSizeF(600, 118 * text_scale()).toSize(); }
    QSize minimumSizeHint() const override { return QSizeF(300, 104 * text_scale()).toSize(); }

    /// Horizontal place of a value, 0 to 1; over-range gives more than 1.
    static double place(Quantity what, double value);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    struct Layout;
    double text_scale() const { return font().pixelSize() > 0 ? font().pixelSize() / 13.0 : 1; } ///< 1 at 100 %
    Layout layout_now() const;
    double x_of(const Layout& at, double value) const;
    void paint_scale(class QPainter& p, const Layout& at) const;
    void paint_bands(class QPainter& p, const Layout& at) const;
    void paint_needle(class QPainter& p, const Layout& at) const;

    const ThemeSource& m_theme;
    RulerScene m_scene;
};

} // namespace ohmo
