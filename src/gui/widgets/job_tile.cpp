// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/job_tile.h"

#include <QStyleOptionButton>
#include <QStylePainter>

namespace ohmo {
namespace {

constexpr int kAside = 12, kAbove = 7, kLetters = 12; // pixels round the lines; letters that are always shown

} // namespace

JobTile::JobTile(const QString& title, QWidget* parent) : QPushButton(parent) {
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    set_texts(title, {});
}

void JobTile::set_texts(const QString& title, const QString& state) {
    m_title = title;
    m_state = state;
    setAccessibleName(state.isEmpty() ? title : title + QStringLiteral(": ") + state);
    update();
}

QSize JobTile::sizeHint() const { return {2 * kAside + 34 * fontMetrics().averageCharWidth(), 2 * kAbove + 2 * fontMetrics().height()}; }

QSize JobTile::minimumSizeHint() const { return {2 * kAside + kLetters * fontMetrics().averageCharWidth(), sizeHint().height()}; }

void JobTile::paintEvent(QPaintEvent*) {
    QStylePainter p(this);
    QStyleOptionButton option;
    initStyleOption(&option);
    option.text.clear();
    p.drawControl(QStyle::CE_PushButton, option);
    const QRect room = rect().adjusted(kAside, kAbove, -kAside, -kAbove);
    const auto line = [&](const QString& text, bool bold, int y) {
        QFont f = font();
        f.setBold(bold);
        p.setFont(f);
        p.drawText(QRect(room.x(), y, room.width(), fontMetrics().height()), Qt::AlignLeft | Qt::AlignVCenter,
                   QFontMetrics(f).elidedText(text, Qt::ElideRight, room.width()));
    };
    p.setPen(palette().color(QPalette::ButtonText));
    line(m_title, true, room.y());
    line(m_state, false, room.y() + fontMetrics().height());
}

} // namespace ohmo
