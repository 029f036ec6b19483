// SPDX-License-Identifier: GPL-3.0-or-later
// Controls that give way where there is little room: a button's text goes on in a second line, a choice ends in an ellipsis, columns share.
#pragma once
#include <QComboBox>
#include <QLabel>
#include <QPushButton>

#include <vector>

class QTableView;

namespace ohmo {

class WrappingButton : public QPushButton {
    Q_OBJECT
public:
    explicit WrappingButton(const QString& text, QWidget* parent = nullptr);
    QSize minimumSizeHint() const override; ///< as wide as its longest word
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QSize frame() const; ///< what a line of text has around it
    QString wrapped(int width) const;
};

class ElidedChoice : public QComboBox {
    Q_OBJECT
public:
    using QComboBox::QComboBox;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;
};

/// One line that ends in an ellipsis; all of it on hover.
class ElidedLabel : public QLabel {
    Q_OBJECT
public:
    explicit ElidedLabel(QWidget* parent = nullptr);
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;
};

/// The columns of a table share its width in these proportions; it is never scrolled sideways.
void share_columns(QTableView& table, const std::vector<int>& shares);

} // namespace ohmo
