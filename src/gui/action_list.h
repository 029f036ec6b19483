// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/actions.h"

#include <QAction>
#include <QWidget>

#include <vector>

namespace ohmo {

/// Every key in one list that can be searched; Enter runs the chosen one where it is an action of the window.
class ActionList : public QWidget {
    Q_OBJECT
public:
    struct Row {
        ActionInfo info;
        QAction* action = nullptr; ///< null for keys of the bench line and the map
    };
    ActionList(std::vector<Row> rows, QWidget* window);
};

} // namespace ohmo
