// SPDX-License-Identifier: GPL-3.0-or-later
// A unit that comes and goes: each switching on by one click, and what the tries come to.
#pragma once
#include "gui/stations/station.h"
#include "gui/widgets/panel.h"

class QLineEdit;
class QPushButton;

namespace ohmo {

class TriesCard : public Card {
    Q_OBJECT
public:
    explicit TriesCard(const Collaborators& with, QWidget* parent = nullptr);
    void refresh();

private:
    void log(const char* how);

    Collaborators m_with;
    QPushButton *m_cold, *m_warm;
    QLineEdit* m_minutes;
    QLabel* m_says;
};

} // namespace ohmo
