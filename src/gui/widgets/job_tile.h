// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QPushButton>

namespace ohmo {

/// A job in a list of jobs: its title, and how far it is in a second line; what does not fit ends in an ellipsis and stands on hover.
class JobTile : public QPushButton {
    Q_OBJECT
public:
    explicit JobTile(const QString& title, QWidget* parent = nullptr);
    void set_texts(const QString& title, const QString& state);
    QSize sizeHint() const override;
    QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    QString m_title, m_state;
};

} // namespace ohmo
