// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/models/parts_model.h"
#include "gui/stations/station.h"

#include <QSortFilterProxyModel>
#include <QTableView>

namespace ohmo {

/// The parts of the board, to be written cell by cell. Ins begins a new part, Ctrl+Ins the same part once more, Del says that it is not on
/// this board, Ctrl+V takes rows of a spreadsheet.
class PartsTable : public QTableView {
    Q_OBJECT
public:
    explicit PartsTable(const Collaborators& with, QWidget* parent = nullptr);
    PartsModel& parts() { return *m_model; }
    void filter(const QString& text) { m_filter->setFilterFixedString(text); }

    void begin_part();
    void double_part();
    void strike_part(); ///< the current one
    void strike(const std::string& part);
    void paste_rows(); ///< from the clipboard

Q_SIGNALS:
    void said(const QString& what, bool good); ///< what became of it

protected:
    void keyPressEvent(QKeyEvent* event) override;

private:
    const Part* current() const;

    Collaborators m_with;
    PartsModel* m_model;
    QSortFilterProxyModel* m_filter;
};

} // namespace ohmo
