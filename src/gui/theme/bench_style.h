// SPDX-License-Identifier: GPL-3.0-or-later
// The look of what the toolkit draws: cards, buttons, fields, tables, menus, in the colours of a theme. Widgets say what they are by
// properties: `card` ("plain", "warn", "stop", "good", "pill"), `surface` ("panel", "inset"), `voice` ("muted", "good", "warn", "bad"),
// `kind` of a button ("main", "danger", "chip").
#pragma once
#include "gui/theme/theme.h"

#include <QProxyStyle>

namespace ohmo {

class BenchStyle : public QProxyStyle {
public:
    explicit BenchStyle(const Theme& theme);

    using QProxyStyle::polish;
    void polish(QWidget* widget) override;
    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p, const QWidget* widget) const override;
    void drawControl(ControlElement element, const QStyleOption* option, QPainter* p, const QWidget* widget) const override;
    void drawComplexControl(ComplexControl control, const QStyleOptionComplex* option, QPainter* p, const QWidget* widget) const override;
    QRect subElementRect(SubElement element, const QStyleOption* option, const QWidget* widget) const override;
    QSize sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& size, const QWidget* widget) const override;
    int pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const override;
    int styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget, QStyleHintReturn* out) const override;

private:
    struct ButtonLook {
        QColor fill, edge, ink;
        int line = 1, radius = 5;
    };
    ButtonLook button_look(const QStyleOption& option, const QWidget* widget, bool checked) const;
    void draw_card(QPainter& p, const QStyleOption& option, const QWidget& widget) const;
    void draw_field(QPainter& p, const QStyleOption& option, bool framed) const;
    void draw_check_box(QPainter& p, const QStyleOption& option) const;
    void draw_menu_bar_item(QPainter& p, const QStyleOption& option, const QWidget* widget) const;

    Theme m_theme;
};

} // namespace ohmo
