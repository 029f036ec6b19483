// SPDX-License-Identifier: GPL-3.0-or-later
// Rails round: one value after the other, without the mouse.
#pragma once
#include "gui/stations/station.h"
#include "job/rails_round.h"

#include <QDialog>

class QLabel;
class QLineEdit;
class QTableWidget;

namespace ohmo {

class RailsRound : public QDialog {
    Q_OBJECT
public:
    explicit RailsRound(const Collaborators& with, QWidget* parent = nullptr);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override; // up and down go through the rails

private:
    bool live() const;
    void refresh();
    void ask();
    void log();

    Collaborators m_with;
    QTableWidget* m_table;
    QLabel *m_how, *m_asked, *m_says;
    QLineEdit* m_value;
    std::vector<RailRow> m_rows;
    bool m_round_done = false;
};

} // namespace ohmo
