// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/panel.h"

#include <QPushButton>
#include <QScrollArea>
#include <QStyle>

namespace ohmo {

QLabel* heading(const QString& text, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    QFont font = label->font();
    font.setBold(true);
    font.setPixelSize(font.pixelSize() * 5 / 4);
    label->setFont(font);
    label->setWordWrap(true);
    return label;
}

QLabel* body(const QString& text, const char* voice, QWidget* parent) {
    auto* label = new QLabel(text, parent);
    label->setWordWrap(true);
    if (voice != nullptr) label->setProperty("voice", QString::fromLatin1(voice));
    return label;
}

QPushButton* button(const QString& text, const char* name, const char* kind) {
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    b->setAccessibleName(text);
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

QWidget* side_column(QVBoxLayout*& layout) {
    auto* scroll = new QScrollArea;
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    scroll->setMinimumWidth(262);
    scroll->setMaximumWidth(380);
    scroll->setProperty("surface", QStringLiteral("panel"));
    auto* inside = new QWidget;
    inside->setProperty("surface", QStringLiteral("panel"));
    layout = new QVBoxLayout(inside);
    layout->setContentsMargins(16, 14, 16, 14);
    layout->setSpacing(8);
    scroll->setWidget(inside);
    return scroll;
}

} // namespace ohmo
