// SPDX-License-Identifier: GPL-3.0-or-later
// Before the cover comes off: socket, plug, lead, adapter, load, another supply. Each answer is an entry of the journal.
#pragma once
#include "gui/stations/station.h"
#include "gui/widgets/panel.h"
#include "readings/outside.h"

#include <QPushButton>

namespace ohmo {

class OutsideCard : public Card {
    Q_OBJECT
public:
    explicit OutsideCard(const Collaborators& with, QWidget* parent = nullptr);
    void refresh();

private:
    struct Row {
        const OutsideCheck* check;
        QWidget* line;
        QLabel* title;
        std::vector<QPushButton*> answers;
    };
    Row make_row(const OutsideCheck& check);
    void toggle(const OutsideCheck& check, std::string_view answer);

    Collaborators m_with;
    std::vector<Row> m_rows;
};

} // namespace ohmo
