// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <QAction>
#include <QWidget>

#include <vector>

namespace ohmo {

/// Every action with its shortcut in one list that can be searched; Enter runs the chosen one.
class ActionList : public QWidget {
    Q_OBJECT
public:
    ActionList(const std::vector<QAction*>& actions, QWidget* window);
};

} // namespace ohmo
