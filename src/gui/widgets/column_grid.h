// SPDX-License-Identifier: GPL-3.0-or-later
// Buttons of one size in as many columns as there is room for.
#pragma once
#include <QWidget>

#include <vector>

class QGridLayout;

namespace ohmo {

class ColumnGrid : public QWidget {
    Q_OBJECT
public:
    explicit ColumnGrid(int most_columns, QWidget* parent = nullptr);
    void add(QWidget* item);
    QSize minimumSizeHint() const override; ///< one column

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    int columns_in(int width) const;
    void arrange(int columns);

    QGridLayout* m_grid;
    std::vector<QWidget*> m_items;
    int m_most, m_columns = 0;
};

} // namespace ohmo
