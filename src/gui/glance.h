// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/stations/station.h"

#include <QLabel>
#include <QLineEdit>
#include <QWidget>

namespace ohmo {

/// To be read from two metres, with probes in both hands: what comes next, where the leads go, the value as it is typed, what the last
/// reading said, and "enough" or what is still locked. Digits go into the value, Enter logs it and goes on; a foot switch that sends Space
/// or Page Down does the same, and goes on to another suggestion where nothing was typed. Escape leaves.
class Glance : public QWidget {
    Q_OBJECT
public:
    Glance(const Collaborators& with, QWidget* parent);

Q_SIGNALS:
    void left();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;

private:
    const NextAct* current() const;
    const WorkCheck* check() const; ///< of new work, if one is open
    void show_now();
    void go_on();
    void step(int by);

    Collaborators m_with;
    QLabel *m_next, *m_leads, *m_last, *m_state;
    QLineEdit* m_value;
    QString m_verdict;
    int m_index = 0;
};

} // namespace ohmo
