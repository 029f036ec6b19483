// SPDX-License-Identifier: GPL-3.0-or-later
// Colours by role, light and dark. Text roles keep 4.5:1 on the surfaces they are used on (tests/gui/theme_test checks it).
#pragma once
#include <QColor>
#include <QObject>
#include <QString>

namespace ohmo {

struct Theme {
    bool dark = false;
    QColor window, panel, inset;       ///< surfaces
    QColor text, muted, line;          ///< on all three
    QColor rail, rail_text, rail_mark; ///< job rail
    QColor accent, on_accent;          ///< buttons, current things
    QColor good, suspect, bad;         ///< text and strokes; never the only sign
    QColor good_fill, suspect_fill, bad_fill;
    QColor hazardous, isolated, hatch; ///< sides of the map and the barrier
    QColor hot_wire, cold_wire;        ///< conductors
};

Theme light_theme();
Theme dark_theme();

/// The theme in use; widgets repaint on changed().
class ThemeSource : public QObject {
    Q_OBJECT
public:
    explicit ThemeSource(QObject* parent = nullptr) : QObject(parent), m_theme(light_theme()) {}

    const Theme& theme() const { return m_theme; }
    int text_percent() const { return m_percent; }
    /// Palette, style and font of the whole application. `percent` scales text, 80 to 200.
    void apply(bool dark, int percent);

Q_SIGNALS:
    void changed();

private:
    Theme m_theme;
    int m_percent = 100;
};

/// Contrast ratio of WCAG 2.1, 1 to 21.
double contrast(const QColor& a, const QColor& b);

} // namespace ohmo
