// SPDX-License-Identifier: GPL-3.0-or-later
// A good unit of the same kind beside this one: its readings, those of this unit, and the odd ones.
#pragma once
#include "gui/stations/station.h"
#include "job/twin.h"

#include <QDialog>

class QLabel;
class QTableWidget;

namespace ohmo {

class TwinDialog : public QDialog {
    Q_OBJECT
public:
    explicit TwinDialog(const Collaborators& with, QWidget* parent = nullptr);

private:
    QString file() const; ///< of the good unit, relative to this job; empty where none was chosen
    void choose();
    void use(const Path& job);
    void load();
    void refresh();
    void take(int row);

    Collaborators m_with;
    QLabel *m_unit, *m_sum;
    QTableWidget* m_table;
    std::shared_ptr<const Replay> m_there;
    QString m_loaded; ///< the file that m_there is of
    std::vector<TwinRow> m_rows;
    int m_asked = 0;
};

} // namespace ohmo
