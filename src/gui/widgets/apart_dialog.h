// SPDX-License-Identifier: GPL-3.0-or-later
// Taking apart: a note and a picture for each thing that comes off; ticked when it is back, last out first.
#pragma once
#include "gui/stations/station.h"
#include "job/apart.h"

#include <QDialog>

class QLabel;
class QLineEdit;
class QListWidget;
class QListWidgetItem;
class QPushButton;

namespace ohmo {

class Thumbnails;

class ApartDialog : public QDialog {
    Q_OBJECT
public:
    explicit ApartDialog(const Collaborators& with, QWidget* parent = nullptr);

private:
    void refresh();
    void log(const std::string& photo);
    void with_photo();
    void tick(const QListWidgetItem& item);
    void show_picture(int row);

    Collaborators m_with;
    QLineEdit* m_text;
    QPushButton *m_add, *m_photo;
    QListWidget* m_list;
    Thumbnails* m_pictures;
    QLabel *m_says, *m_left;
    std::vector<ApartNote> m_notes; ///< by row
};

} // namespace ohmo
