// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/theme/theme.h"

#include "gui/theme/bench_style.h"

#include <QApplication>
#include <QFont>
#include <QPalette>
#include <QToolTip>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

QPalette palette_of(const Theme& t) {
    QPalette p;
    p.setColor(QPalette::Window, t.window);
    p.setColor(QPalette::WindowText, t.text);
    p.setColor(QPalette::Base, t.panel);
    p.setColor(QPalette::AlternateBase, t.inset);
    p.setColor(QPalette::Text, t.text);
    p.setColor(QPalette::PlaceholderText, t.muted);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::ButtonText, t.text);
    p.setColor(QPalette::Highlight, t.accent);
    p.setColor(QPalette::HighlightedText, t.on_accent);
    p.setColor(QPalette::ToolTipBase, t.panel);
    p.setColor(QPalette::ToolTipText, t.text);
    p.setColor(QPalette::Link, t.accent);
    p.setColor(QPalette::Mid, t.line);
    for (auto role : {QPalette::WindowText, QPalette::Text, QPalette::ButtonText}) p.setColor(QPalette::Disabled, role, t.muted);
    return p;
}

double luminance(const QColor& c) {
    const auto linear = [](double v) { return v <= 0.03928 ? v / 12.92 : std::pow((v + 0.055) / 1.055, 2.4); };
    return 0.2126 * linear(c.redF()) + 0.7152 * linear(c.greenF()) + 0.0722 * linear(c.blueF());
}

} // namespace

Theme light_theme() {
    Theme t;
    t.window = QColor(0xf1efe8);
    t.panel = QColor(0xfdfcfa);
    t.inset = QColor(0xe9e6dc);
    t.text = QColor(0x1b2327);
    t.muted = QColor(0x4f5b62);
    t.line = QColor(0xc9c4b6);
    t.rail = QColor(0x25313b);
    t.rail_text = QColor(0xe8edf0);
    t.rail_mark = QColor(0xf2b84b);
    t.accent = QColor(0x1d5c8c);
    t.on_accent = QColor(0xffffff);
    t.good = QColor(0x1c6b3c);
    t.suspect = QColor(0x7d4a00);
    t.bad = QColor(0xa32113);
    t.good_fill = QColor(0xdcefe0);
    t.suspect_fill = QColor(0xfdf0d2);
    t.bad_fill = QColor(0xfae0da);
    t.hazardous = QColor(0xfaebe0);
    t.isolated = QColor(0xe4edf3);
    t.hatch = QColor(0xcf8f78);
    t.hot_wire = QColor(0xb5664a);
    t.cold_wire = QColor(0x4d7f9e);
    return t;
}

Theme dark_theme() {
    Theme t;
    t.dark = true;
    t.window = QColor(0x171c20);
    t.panel = QColor(0x20272c);
    t.inset = QColor(0x2a3238);
    t.text = QColor(0xeaeef0);
    t.muted = QColor(0xaab5bb);
    t.line = QColor(0x444f56);
    t.rail = QColor(0x0e1316);
    t.rail_text = QColor(0xdfe6e9);
    t.rail_mark = QColor(0xf2b84b);
    t.accent = QColor(0x7db8e8);
    t.on_accent = QColor(0x0c1a26);
    t.good = QColor(0x7fd39a);
    t.suspect = QColor(0xf2bd62);
    t.bad = QColor(0xff9c88);
    t.good_fill = QColor(0x1d3325);
    t.suspect_fill = QColor(0x3a2e14);
    t.bad_fill = QColor(0x40211b);
    t.hazardous = QColor(0x2f241f);
    t.isolated = QColor(0x1d2932);
    t.hatch = QColor(0x8a5a48);
    t.hot_wire = QColor(0xc07e63);
    t.cold_wire = QColor(0x6c9fbe);
    return t;
}

void ThemeSource::apply(bool dark, int percent) {
    m_theme = dark ? dark_theme() : light_theme();
    m_percent = std::clamp(percent, 80, 200);
    QFont font(QStringLiteral("B612"));
    font.setPixelSize(13 * m_percent / 100);
    QApplication::setFont(font);
    QApplication::setPalette(palette_of(m_theme));
    QToolTip::setPalette(palette_of(m_theme));
    QApplication::setStyle(new BenchStyle(m_theme)); // last: every widget is asked anew for its size
    Q_EMIT changed();
}

double contrast(const QColor& a, const QColor& b) {
    const double x = luminance(a), y = luminance(b);
    return (std::max(x, y) + 0.05) / (std::min(x, y) + 0.05);
}

} // namespace ohmo
