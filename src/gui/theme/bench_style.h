// SPDX-License-Identifier: GPL-3.0-or-later
// What the base style draws too faintly to be seen at arm's length.
#pragma once
#include <QProxyStyle>

namespace ohmo {

class BenchStyle : public QProxyStyle {
    Q_OBJECT
public:
    BenchStyle();
    void drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* painter, const QWidget* widget) const override;
};

} // namespace ohmo
