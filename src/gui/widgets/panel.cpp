// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/panel.h"

#include "gui/widgets/yielding.h"

#include <QDialog>
#include <QPushButton>
#include <QScreen>
#include <QScrollArea>
#include <QStyle>

namespace ohmo {
namespace {

constexpr QSize kWindowFrame{16, 48}; // what a window manager draws round a dialog

void make_heading(QLabel& label) {
    QFont font = label.font();
    font.setBold(true);
    font.setPixelSize(font.pixelSize() * 5 / 4);
    label.setFont(font);
}

} // namespace

QLabel* heading(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    make_heading(*label);
    label->setWordWrap(true);
    return label;
}

QLabel* heading_line() {
    auto* label = new ElidedLabel;
    make_heading(*label);
    return label;
}

QLabel* body(const QString& text, const char* voice, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setWordWrap(true);
    if (voice != nullptr) label->setProperty("voice", QString::fromLatin1(voice));
    return label;
}

void set_voice(QLabel& label, const char* voice) {
    label.setProperty("voice", QString::fromLatin1(voice));
    label.style()->unpolish(&label);
    label.style()->polish(&label);
}

QVBoxLayout* dialog_layout(QDialog& dialog, const char* name, const QString& title, QSize size) {
    dialog.setObjectName(QString::fromLatin1(name));
    dialog.setWindowTitle(title);
    dialog.setProperty(kWantedSize, size);
    dialog.resize(size.boundedTo(dialog.screen()->availableSize() - kWindowFrame));
    auto* layout = new QVBoxLayout(&dialog);
    layout->setContentsMargins(16, 16, 16, 16);
    layout->setSpacing(12);
    return layout;
}

QPushButton* button(const QString& text, const char* name, const char* kind) {
    auto* b = new WrappingButton(text);
    b->setObjectName(QString::fromLatin1(name));
    b->setAccessibleName(QString(text).remove(QLatin1Char('&')));
    if (kind != nullptr) b->setProperty("kind", QString::fromLatin1(kind));
    return b;
}

Card::Card(const QString& title, const char* look, QWidget* parent)
    : QFrame(parent), m_layout(new QVBoxLayout(this)), m_title(new QLabel(title)), m_text(body({})) {
    m_layout->setContentsMargins(12, 10, 12, 10);
    m_layout->setSpacing(5);
    QFont bold = m_title->font();
    bold.setBold(true);
    m_title->setFont(bold);
    m_title->setWordWrap(true);
    m_layout->addWidget(m_title);
    m_layout->addWidget(m_text);
    m_text->hide();
    set_look(look);
}

void Card::set_text(const QString& text) {
    m_text->setText(text);
    m_text->setVisible(!text.isEmpty());
}

void Card::set_look(const char* look) {
    setProperty("card", QString::fromLatin1(look));
    style()->unpolish(this);
    style()->polish(this);
}

void clear_layout(QLayout* layout) {
    while (auto* item = layout->takeAt(0)) {
        if (auto* widget = item->widget()) {
            widget->hide();
            widget->deleteLater();
        }
        if (item->layout() != nullptr) clear_layout(item->layout());
        delete item;
    }
}

QWidget* scrolled_column(QVBoxLayout*& layout, const char* surface) {
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setFrameShape(QFrame::NoFrame);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* inside = new QWidget;
    if (surface != nullptr)
        for (QWidget* w : {static_cast<QWidget*>(scroll), inside}) w->setProperty("surface", QString::fromLatin1(surface));
    layout = new QVBoxLayout(inside);
    scroll->setWidget(inside);
    return scroll;
}

QWidget* side_column(QVBoxLayout*& layout) {
    auto* column = scrolled_column(layout, "panel");
    column->setMinimumWidth(262);
    column->setMaximumWidth(380);
    layout->setContentsMargins(16, 14, 16, 14);
    layout->setSpacing(8);
    return column;
}

} // namespace ohmo
