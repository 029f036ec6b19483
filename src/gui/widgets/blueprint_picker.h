// SPDX-License-Identifier: GPL-3.0-or-later
// Which family of supply is on the bench: a list beside what to recognise it by.
#pragma once
#include "job/blueprints.h"

#include <QDialog>

#include <vector>

class QLabel;
class QListWidget;
class QPushButton;

namespace ohmo {

class BoardSketch;
class ThemeSource;

class BlueprintPicker : public QDialog {
    Q_OBJECT
public:
    BlueprintPicker(std::vector<Blueprint> blueprints, const ThemeSource& theme, QWidget* parent = nullptr);
    /// Name of the family picked; empty before one is.
    QString picked() const;

private:
    void show_current();

    std::vector<Blueprint> m_blueprints;
    QListWidget* m_list;
    BoardSketch* m_sketch;
    QLabel *m_title, *m_recognise, *m_rails, *m_parts, *m_hazard;
    QPushButton* m_start;
};

} // namespace ohmo
