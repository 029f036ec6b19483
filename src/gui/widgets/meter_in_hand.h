// SPDX-License-Identifier: GPL-3.0-or-later
// Which meter is in hand from here on, and what it shows with its tips touched: a digit, a value, Enter.
#pragma once
#include "gui/stations/station.h"

#include <QDialog>

class QButtonGroup;
class QLabel;
class QLineEdit;

namespace ohmo {

class MeterInHandDialog : public QDialog {
    Q_OBJECT
public:
    explicit MeterInHandDialog(const Collaborators& with, QWidget* parent = nullptr);

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    void take(int number); ///< of the drawer, from 0
    void null_leads();

    Collaborators m_with;
    std::vector<std::string> m_drawer;
    QButtonGroup* m_meters;
    QLineEdit* m_leads;
    QLabel* m_says;
};

} // namespace ohmo
