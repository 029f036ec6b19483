// SPDX-License-Identifier: GPL-3.0-or-later
// The rails at the supply's own connector, idle and loaded: two fields a rail, Enter goes on.
#pragma once
#include "gui/stations/station.h"
#include "gui/widgets/panel.h"

#include <QLineEdit>

#include <vector>

class QGridLayout;

namespace ohmo {

class ConnectorRails : public Card {
    Q_OBJECT
public:
    explicit ConnectorRails(const Collaborators& with, QWidget* parent = nullptr);
    void refresh();

private:
    void build();
    void log(std::size_t rail, bool idle, QLineEdit& field);

    Collaborators m_with;
    QGridLayout* m_grid;
    QLabel* m_says;
    std::vector<Rail> m_rails; ///< that the fields are for
    std::vector<QLineEdit*> m_idle, m_loaded;
};

} // namespace ohmo
