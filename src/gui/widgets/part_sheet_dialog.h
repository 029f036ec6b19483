// SPDX-License-Identifier: GPL-3.0-or-later
// The sheet of the selected part: judgement, reasons, tests by pins, history, pictures. Follows the selection.
#pragma once
#include "gui/stations/station.h"
#include "job/part_sheet.h"

#include <QDialog>

class QHBoxLayout;
class QLabel;
class QTableWidget;

namespace ohmo {

class Thumbnails;

class PartSheetDialog : public QDialog {
    Q_OBJECT
public:
    explicit PartSheetDialog(const Collaborators& with, QWidget* parent = nullptr);

private:
    void ask();
    void show_sheet(const Analysis& a, const PartSheet& sheet);
    void show_pictures();
    void take_its_picture();
    std::string chosen() const; ///< the selected part, empty for none
    void take(int row);         ///< the test of this row into the bench line

    Collaborators m_with;
    QLabel *m_title, *m_judged, *m_reasons, *m_history;
    QTableWidget* m_tests;
    QHBoxLayout* m_pictures;
    Thumbnails* m_thumbnails;
    int m_asked = 0;
    std::vector<PartTest> m_shown;
    int m_part = -1;
};

} // namespace ohmo
