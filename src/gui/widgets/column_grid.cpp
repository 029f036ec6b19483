// SPDX-License-Identifier: GPL-3.0-or-later
#include "gui/widgets/column_grid.h"

#include <QGridLayout>

#include <algorithm>

namespace ohmo {

ColumnGrid::ColumnGrid(int most_columns, QWidget* parent) : QWidget(parent), m_grid(new QGridLayout(this)), m_most(most_columns) {
    m_grid->setContentsMargins(0, 0, 0, 0);
    m_grid->setHorizontalSpacing(6);
    m_grid->setVerticalSpacing(4);
}

void ColumnGrid::add(QWidget* item) {
    m_items.push_back(item);
    arrange(std::max(m_columns, 1));
}

int ColumnGrid::columns_in(int width) const {
    int widest = 1;
    for (const auto* item : m_items) widest = std::max(widest, item->sizeHint().width());
    return std::clamp((width + m_grid->horizontalSpacing()) / (widest + m_grid->horizontalSpacing()), 1, m_most);
}

QSize ColumnGrid::minimumSizeHint() const {
    int widest = 0;
    for (const auto* item : m_items) widest = std::max(widest, item->minimumSizeHint().width());
    return {widest, m_grid->minimumSize().height()};
}

void ColumnGrid::arrange(int columns) {
    for (auto* item : m_items) m_grid->removeWidget(item);
    for (int c = 0; c < m_most; ++c) m_grid->setColumnStretch(c, c < columns ? 1 : 0);
    int k = 0;
    for (auto* item : m_items) {
        m_grid->addWidget(item, k / columns, k % columns);
        ++k;
    }
    m_columns = columns;
}

void ColumnGrid::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    if (const int columns = columns_in(width()); columns != m_columns) arrange(columns);
}

} // namespace ohmo
