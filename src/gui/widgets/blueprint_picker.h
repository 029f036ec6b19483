// SPDX-License-Identifier: GPL-3.0-or-later
// Which family of supply is on the bench, and what one sees of it: a list, what to recognise it by, the board as it would stand there.
#pragma once
#include "job/blueprints.h"

#include <QDialog>

#include <optional>
#include <vector>

class QLabel;
class QListWidget;
class QPushButton;
class QTabWidget;

namespace ohmo {

class BoardSketch;
class SupplyForm;
class ThemeSource;

class BlueprintPicker : public QDialog {
    Q_OBJECT
public:
    BlueprintPicker(std::vector<Blueprint> blueprints, const ThemeSource& theme, QWidget* parent = nullptr);
    /// Name of the family picked; empty before one is.
    QString picked() const;
    /// What it is designed from; nothing for the empty board.
    const std::optional<Supply>& supply() const { return m_supply; }

private:
    const Blueprint& current() const;
    void show_family();
    void show_board();

    std::vector<Blueprint> m_blueprints;
    std::optional<Supply> m_supply;
    QListWidget *m_list, *m_sums;
    BoardSketch* m_sketch;
    SupplyForm* m_form;
    QTabWidget* m_pictures;
    QLabel *m_title, *m_recognise, *m_parts, *m_hazard;
    QPushButton* m_start;
};

} // namespace ohmo
