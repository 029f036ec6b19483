// SPDX-License-Identifier: GPL-3.0-or-later
// Controls that give way where there is little room: a button's text goes on in a second line, a choice ends in an ellipsis, columns
// and panes share.
#pragma once
#include <QComboBox>
#include <QLabel>
#include <QPushButton>
#include <QSplitter>

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

/// Two widgets, one above the other: the lower has the height that it wants, the upper the rest, until the user moves the handle.
class SplitByContent : public QSplitter {
    Q_OBJECT
public:
    /// `least`, `most`: shares of the whole that the lower has at any rate, and never exceeds.
    SplitByContent(double least, double most);
    void set_lower(int height); ///< px

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void share();
    double m_least, m_most;
    int m_lower = 0;
    bool m_by_hand = false;
};

/// The columns of a table share its width in these proportions; it is never scrolled sideways, and Tab leads on from it.
void share_columns(QTableView& table, const std::vector<int>& shares);

} // namespace ohmo
