// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/theme/bench_style.h"

#include <QFrame>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>
#include <QStyleFactory>
#include <QStyleOption>
#include <QTableView>

namespace ohmo {
namespace {

// Pixels: what stands round the words.
constexpr QSize kRoundButton{22, 12}, kRoundChip{20, 6}, kRoundField{14, 10};
constexpr int kCellMargin = 6, kCellRise = 4, kRowRise = 6, kHeaderMargin = 6, kPillRadius = 13, kCardRadius = 6;

QString word(const QWidget* widget, const char* property) { return widget == nullptr ? QString() : widget->property(property).toString(); }

bool is(const QStyleOption& option, QStyle::StateFlag flag) { return option.state.testFlag(flag); }

void rounded(QPainter& p, const QRect& rect, double radius, const QColor& fill, const QColor& edge, int line) {
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(QPen(edge, line));
    p.setBrush(fill);
    const double half = line / 2.0;
    p.drawRoundedRect(QRectF(rect).adjusted(half, half, -half, -half), radius, radius);
    p.restore();
}

} // namespace

BenchStyle::BenchStyle(const Theme& theme) : QProxyStyle(QStyleFactory::create(QStringLiteral("Fusion"))), m_theme(theme) {}

void BenchStyle::polish(QWidget* widget) {
    QProxyStyle::polish(widget);
    const Theme& t = m_theme;
    const QString voice = word(widget, "voice"), surface = word(widget, "surface"), kind = word(widget, "kind"),
                  card = word(widget, "card");
    QPalette own;
    if (!voice.isEmpty())
        own.setColor(QPalette::WindowText, voice == QLatin1String("good")   ? t.good
                                           : voice == QLatin1String("warn") ? t.suspect
                                           : voice == QLatin1String("bad")  ? t.bad
                                                                            : t.muted);
    if (!surface.isEmpty()) {
        own.setColor(QPalette::Window, surface == QLatin1String("inset") ? t.inset : t.panel);
        widget->setAutoFillBackground(true);
    }
    if (!voice.isEmpty() || !surface.isEmpty()) widget->setPalette(own);
    if (kind == QLatin1String("main") || kind == QLatin1String("danger")) {
        QFont bold;
        bold.setBold(true);
        widget->setFont(bold);
    }
    if (auto* frame = qobject_cast<QFrame*>(widget)) {
        if (!card.isEmpty()) frame->setFrameShape(QFrame::StyledPanel);
        if (qobject_cast<QScrollArea*>(frame) != nullptr) frame->setFrameShape(QFrame::NoFrame);
    }
}

BenchStyle::ButtonLook BenchStyle::button_look(const QStyleOption& option, const QWidget* widget, bool checked) const {
    const Theme& t = m_theme;
    const QString kind = word(widget, "kind");
    const bool main = kind == QLatin1String("main"), danger = kind == QLatin1String("danger"), focus = is(option, State_HasFocus);
    ButtonLook out{t.panel, t.line, t.text};
    if (kind == QLatin1String("chip")) out.radius = 10;
    if (danger) out = {t.panel, t.bad, t.bad, 2};
    if (main || checked) out = {t.accent, t.accent, t.on_accent, 1, out.radius};
    if (!is(option, State_Enabled)) return {t.inset, t.line, t.muted, danger ? 2 : 1, out.radius};
    if (is(option, State_Sunken) && !main && !checked) out.fill = t.inset;
    if (is(option, State_MouseOver) && !main && !danger) out.edge = t.accent;
    if (focus) {
        out.edge = main || checked ? t.text : danger ? t.bad : t.accent;
        out.line = danger ? 3 : 2;
    }
    return out;
}

void BenchStyle::draw_card(QPainter& p, const QStyleOption& option, const QWidget& widget) const {
    const Theme& t = m_theme;
    const QString card = word(&widget, "card");
    if (card == QLatin1String("pill"))
        rounded(p, widget.rect(), kPillRadius, widget.palette().color(QPalette::Window), widget.palette().color(QPalette::WindowText), 2);
    else if (card == QLatin1String("warn"))
        rounded(p, option.rect, kCardRadius, t.suspect_fill, t.suspect, 1);
    else if (card == QLatin1String("stop"))
        rounded(p, option.rect, kCardRadius, t.bad_fill, t.bad, 1);
    else if (card == QLatin1String("good"))
        rounded(p, option.rect, kCardRadius, t.good_fill, t.good, 1);
    else
        rounded(p, option.rect, kCardRadius, t.panel, t.line, 1);
}

// In a cell there is no room for a rounded edge.
void BenchStyle::draw_field(QPainter& p, const QStyleOption& option, bool framed) const {
    const bool focus = is(option, State_HasFocus);
    const QColor fill = is(option, State_Enabled) ? m_theme.panel : m_theme.inset;
    if (framed)
        rounded(p, option.rect, 4, fill, focus ? m_theme.accent : m_theme.line, focus ? 2 : 1);
    else
        p.fillRect(option.rect, fill);
}

// An empty box in the colour of text, filled with a tick where it is set.
void BenchStyle::draw_check_box(QPainter& p, const QStyleOption& option) const {
    const bool on = is(option, State_On), enabled = is(option, State_Enabled);
    const auto& palette = option.palette;
    const QColor edge = palette.color(enabled ? QPalette::Normal : QPalette::Disabled, QPalette::WindowText);
    const QColor fill = on && enabled ? palette.color(QPalette::Highlight) : palette.color(QPalette::Base);
    p.save();
    p.setRenderHint(QPainter::Antialiasing);
    const QRectF box = QRectF(option.rect).adjusted(1, 1, -1, -1);
    p.setPen(QPen(on && enabled ? fill : edge, 1.2));
    p.setBrush(fill);
    p.drawRoundedRect(box, 2, 2);
    if (on) {
        p.setPen(QPen(enabled ? palette.color(QPalette::HighlightedText) : edge, 1.8, Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        p.setBrush(Qt::NoBrush);
        const auto at = [&](double x, double y) { return QPointF(box.left() + x * box.width(), box.top() + y * box.height()); };
        QPainterPath tick(at(0.22, 0.52));
        tick.lineTo(at(0.42, 0.74));
        tick.lineTo(at(0.80, 0.26));
        p.drawPath(tick);
    }
    p.restore();
}

void BenchStyle::draw_menu_bar_item(QPainter& p, const QStyleOption& option, const QWidget* widget) const {
    const auto* item = qstyleoption_cast<const QStyleOptionMenuItem*>(&option);
    const bool chosen = is(option, State_Selected) && is(option, State_Enabled);
    p.fillRect(option.rect, chosen ? m_theme.accent : m_theme.panel);
    int flags = Qt::AlignCenter | Qt::TextShowMnemonic | Qt::TextDontClip | Qt::TextSingleLine;
    if (proxy()->styleHint(SH_UnderlineShortcut, &option, widget) == 0) flags |= Qt::TextHideMnemonic;
    if (item != nullptr)
        drawItemText(&p, option.rect, flags, option.palette, is(option, State_Enabled), item->text,
                     chosen ? QPalette::HighlightedText : QPalette::ButtonText);
}

void BenchStyle::drawPrimitive(PrimitiveElement element, const QStyleOption* option, QPainter* p, const QWidget* widget) const {
    switch (element) {
    case PE_IndicatorCheckBox:
        return draw_check_box(*p, *option);
    case PE_PanelLineEdit: {
        const auto* frame = qstyleoption_cast<const QStyleOptionFrame*>(option);
        return draw_field(*p, *option, frame != nullptr && frame->lineWidth > 0);
    }
    case PE_Frame:
        p->setPen(m_theme.line);
        p->drawRect(option->rect.adjusted(0, 0, -1, -1));
        return;
    case PE_PanelMenuBar:
        p->fillRect(option->rect, m_theme.panel);
        return;
    default:
        QProxyStyle::drawPrimitive(element, option, p, widget);
    }
}

void BenchStyle::drawControl(ControlElement element, const QStyleOption* option, QPainter* p, const QWidget* widget) const {
    switch (element) {
    case CE_ShapedFrame:
        if (widget != nullptr && !word(widget, "card").isEmpty()) return draw_card(*p, *option, *widget);
        break;
    case CE_PushButton:
        if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option)) {
            proxy()->drawControl(CE_PushButtonBevel, button, p, widget);
            QStyleOptionButton label = *button;
            label.rect = option->rect.adjusted(4, 1, -4, -1);
            proxy()->drawControl(CE_PushButtonLabel, &label, p, widget);
            return;
        }
        break;
    case CE_PushButtonBevel: {
        const auto look = button_look(*option, widget, is(*option, State_On));
        return rounded(*p, option->rect, look.radius, look.fill, look.edge, look.line);
    }
    case CE_PushButtonLabel:
        if (const auto* button = qstyleoption_cast<const QStyleOptionButton*>(option)) {
            QStyleOptionButton label = *button;
            label.palette.setColor(QPalette::ButtonText, button_look(*option, widget, is(*option, State_On)).ink);
            return QProxyStyle::drawControl(element, &label, p, widget);
        }
        break;
    case CE_HeaderSection:
    case CE_HeaderEmptyArea:
        p->fillRect(option->rect, m_theme.inset);
        p->setPen(m_theme.line);
        p->drawLine(option->rect.bottomLeft(), option->rect.bottomRight());
        return;
    case CE_HeaderLabel:
        if (const auto* header = qstyleoption_cast<const QStyleOptionHeader*>(option)) {
            QStyleOptionHeader label = *header;
            label.palette.setColor(QPalette::ButtonText, m_theme.muted);
            return QProxyStyle::drawControl(element, &label, p, widget);
        }
        break;
    case CE_MenuBarEmptyArea:
        p->fillRect(option->rect, m_theme.panel);
        return;
    case CE_MenuBarItem:
        return draw_menu_bar_item(*p, *option, widget);
    case CE_Splitter:
        p->fillRect(option->rect, m_theme.line);
        return;
    default:
        break;
    }
    QProxyStyle::drawControl(element, option, p, widget);
}

void BenchStyle::drawComplexControl(ComplexControl control, const QStyleOptionComplex* option, QPainter* p, const QWidget* widget) const {
    const auto* tool = qstyleoption_cast<const QStyleOptionToolButton*>(option);
    if (control != CC_ToolButton || tool == nullptr ||
        (tool->features & (QStyleOptionToolButton::Arrow | QStyleOptionToolButton::HasMenu)) != 0)
        return QProxyStyle::drawComplexControl(control, option, p, widget);
    const auto look = button_look(*option, widget, is(*option, State_On));
    rounded(*p, option->rect, look.radius, look.fill, look.edge, look.line);
    QStyleOptionToolButton label = *tool;
    label.palette.setColor(QPalette::ButtonText, look.ink);
    proxy()->drawControl(CE_ToolButtonLabel, &label, p, widget);
}

QRect BenchStyle::subElementRect(SubElement element, const QStyleOption* option, const QWidget* widget) const {
    if (element == SE_LineEditContents) {
        const auto* frame = qstyleoption_cast<const QStyleOptionFrame*>(option);
        if (frame != nullptr && frame->lineWidth > 0)
            return option->rect.adjusted(kRoundField.width() / 2, kRoundField.height() / 2, -kRoundField.width() / 2,
                                         -kRoundField.height() / 2);
    }
    return QProxyStyle::subElementRect(element, option, widget);
}

QSize BenchStyle::sizeFromContents(ContentsType type, const QStyleOption* option, const QSize& size, const QWidget* widget) const {
    switch (type) {
    case CT_PushButton:
        return size + kRoundButton;
    case CT_ToolButton:
        return size + (word(widget, "kind") == QLatin1String("chip") ? kRoundChip : kRoundButton);
    case CT_LineEdit: {
        const auto* frame = qstyleoption_cast<const QStyleOptionFrame*>(option);
        if (frame != nullptr && frame->lineWidth > 0) return size + kRoundField;
        break;
    }
    case CT_HeaderSection:
        return QProxyStyle::sizeFromContents(type, option, size, widget) - QSize(0, 3);
    case CT_ItemViewItem:
        if (qobject_cast<const QTableView*>(widget) != nullptr)
            return QProxyStyle::sizeFromContents(type, option, size, widget) + QSize(0, kCellRise);
        break;
    default:
        break;
    }
    return QProxyStyle::sizeFromContents(type, option, size, widget);
}

int BenchStyle::pixelMetric(PixelMetric metric, const QStyleOption* option, const QWidget* widget) const {
    if (metric == PM_HeaderMargin) return kHeaderMargin;
    if (metric == PM_HeaderDefaultSectionSizeVertical && widget != nullptr) return widget->fontMetrics().height() + kRowRise;
    if (metric == PM_FocusFrameHMargin && qobject_cast<const QTableView*>(widget) != nullptr) return kCellMargin;
    return QProxyStyle::pixelMetric(metric, option, widget);
}

int BenchStyle::styleHint(StyleHint hint, const QStyleOption* option, const QWidget* widget, QStyleHintReturn* out) const {
    if (hint == SH_Table_GridLineColor) return static_cast<int>(m_theme.line.rgba());
    return QProxyStyle::styleHint(hint, option, widget, out);
}

} // namespace ohmo
