// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/yielding.h"

#include <QEvent>
#include <QHeaderView>
#include <QPainter>
#include <QStyleOptionButton>
#include <QStyleOptionComboBox>
#include <QStylePainter>
#include <QTableView>

#include <algorithm>
#include <numeric>

namespace ohmo {
namespace {

constexpr int kFewestLetters = 6; // of a choice

class ColumnSharer : public QObject {
public:
    ColumnSharer(QTableView& table, std::vector<int> shares) : QObject(&table), m_table(table), m_shares(std::move(shares)) {
        table.viewport()->installEventFilter(this);
    }

protected:
    bool eventFilter(QObject*, QEvent* event) override {
        if (event->type() != QEvent::Resize) return false;
        const int all = std::accumulate(m_shares.begin(), m_shares.end(), 0), room = m_table.viewport()->width();
        int left = room;
        for (std::size_t c = 0; c < m_shares.size(); ++c) {
            const int width = c + 1 < m_shares.size() ? room * m_shares[c] / all : left;
            m_table.setColumnWidth(static_cast<int>(c), width);
            left -= width;
        }
        return false;
    }

private:
    QTableView& m_table;
    std::vector<int> m_shares;
};

int advance(const QFontMetrics& metrics, QString text) { return metrics.horizontalAdvance(text.remove(QLatin1Char('&'))); }

} // namespace

WrappingButton::WrappingButton(const QString& text, QWidget* parent) : QPushButton(text, parent) {
    QSizePolicy policy(QSizePolicy::Preferred, QSizePolicy::Minimum, QSizePolicy::PushButton);
    policy.setHeightForWidth(true);
    setSizePolicy(policy);
}

QSize WrappingButton::frame() const { return sizeHint() - QSize(advance(fontMetrics(), text()), fontMetrics().height()); }

QString WrappingButton::wrapped(int width) const {
    const int room = width - frame().width();
    QString out, line;
    for (const auto& word : text().split(QLatin1Char(' '))) {
        const QString longer = line.isEmpty() ? word : line + QLatin1Char(' ') + word;
        if (!line.isEmpty() && advance(fontMetrics(), longer) > room) {
            out += line + QLatin1Char('\n');
            line = word;
        } else {
            line = longer;
        }
    }
    return out + line;
}

QSize WrappingButton::minimumSizeHint() const {
    int longest = 0;
    for (const auto& word : text().split(QLatin1Char(' '))) longest = std::max(longest, advance(fontMetrics(), word));
    return {longest + frame().width(), sizeHint().height()};
}

int WrappingButton::heightForWidth(int width) const {
    return frame().height() + fontMetrics().height() * (1 + static_cast<int>(wrapped(width).count(QLatin1Char('\n'))));
}

void WrappingButton::paintEvent(QPaintEvent*) {
    QStylePainter p(this);
    QStyleOptionButton option;
    initStyleOption(&option);
    option.text = wrapped(width());
    p.drawControl(QStyle::CE_PushButton, option);
}

QSize ElidedChoice::minimumSizeHint() const {
    const QSize whole = QComboBox::minimumSizeHint();
    return {std::min(whole.width(), kFewestLetters * fontMetrics().averageCharWidth() + whole.height()), whole.height()};
}

void ElidedChoice::paintEvent(QPaintEvent*) {
    QStylePainter p(this);
    QStyleOptionComboBox option;
    initStyleOption(&option);
    const QRect room = style()->subControlRect(QStyle::CC_ComboBox, &option, QStyle::SC_ComboBoxEditField, this);
    option.currentText = fontMetrics().elidedText(option.currentText, Qt::ElideRight, room.width() - 4);
    p.drawComplexControl(QStyle::CC_ComboBox, option);
    p.drawControl(QStyle::CE_ComboBoxLabel, option);
}

ElidedLabel::ElidedLabel(QWidget* parent) : QLabel(parent) { setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Preferred); }

QSize ElidedLabel::minimumSizeHint() const { return {0, QLabel::minimumSizeHint().height()}; }

void ElidedLabel::paintEvent(QPaintEvent*) {
    QPainter p(this);
    p.setFont(font());
    p.setPen(palette().color(foregroundRole()));
    p.drawText(rect(), static_cast<int>(alignment()), fontMetrics().elidedText(text(), Qt::ElideRight, width()));
}

SplitByContent::SplitByContent(double least, double most) : QSplitter(Qt::Vertical), m_least(least), m_most(most) {
    connect(this, &QSplitter::splitterMoved, this, [this] { m_by_hand = true; });
}

void SplitByContent::set_lower(int height) {
    m_lower = height;
    share();
}

void SplitByContent::resizeEvent(QResizeEvent* event) {
    QSplitter::resizeEvent(event);
    share();
}

void SplitByContent::share() {
    if (m_by_hand || count() < 2) return;
    const int all = height() - handleWidth();
    const int lower = std::clamp(m_lower, qRound(m_least * all), qRound(m_most * all));
    setSizes({all - lower, lower});
}

void share_columns(QTableView& table, const std::vector<int>& shares) {
    table.setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    table.horizontalHeader()->setMinimumSectionSize(24);
    table.setTabKeyNavigation(false); // from cell to cell go the arrows
    new ColumnSharer(table, shares);  // belongs to the table
}

} // namespace ohmo
