// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "advice/next_reading.h"
#include "gui/theme/theme.h"

#include <QVariantAnimation>
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
        bool operator==(const Needle&) const = default;
    };
    std::optional<Needle> needle;          ///< the reading just logged here
    bool excluded(const Band& band) const; ///< the needle fell outside it
};

/// A logarithmic scale (linear in diode mode). Bands are drawn above it, the healthy one always and hatched; over-range has a bay of its
/// own at the end. A needle drops when its reading arrives and the bands that it excludes fade; the next scene waits for that. What is
/// typed while the ruler has the focus is the value.
class ReadingRuler : public QWidget {
    Q_OBJECT
public:
    explicit ReadingRuler(const ThemeSource& theme, QWidget* parent = nullptr);
    void show_scene(const RulerScene& scene);
    const RulerScene& scene() const { return m_next ? *m_next : m_scene; }
    void show_typed(const std::optional<RulerScene::Needle>& needle); ///< where it would fall
    QSize sizeHint() const override { return QSizeF(600, 118 * text_scale()).toSize(); }
    QSize minimumSizeHint() const override { return QSizeF(300, 104 * text_scale()).toSize(); }

    /// Horizontal place of a value, 0 to 1; over-range gives more than 1.
    static double place(Quantity what, double value);

Q_SIGNALS:
    void typed(const QString& text);

protected:
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent*) override { update(); }
    void focusOutEvent(QFocusEvent*) override { update(); }
    void paintEvent(QPaintEvent*) override;

private:
    struct Layout;
    double text_scale() const { return font().pixelSize() > 0 ? font().pixelSize() / 13.0 : 1; } ///< 1 at 100 %
    Layout layout_now() const;
    double x_of(const Layout& at, double value) const;
    void paint_scale(class QPainter& p, const Layout& at) const;
    void paint_bands(class QPainter& p, const Layout& at) const;
    void paint_needle(class QPainter& p, const Layout& at, const RulerScene::Needle& needle, bool fallen) const;
    void take(const RulerScene& scene);
    double fall() const; ///< of the needle, 0 to 1

    const ThemeSource& m_theme;
    RulerScene m_scene;
    std::optional<RulerScene> m_next; ///< waits until the needle has dropped
    std::optional<RulerScene::Needle> m_typed;
    QVariantAnimation m_drop;
};

} // namespace ohmo
