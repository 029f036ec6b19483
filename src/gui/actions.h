// SPDX-License-Identifier: GPL-3.0-or-later
// Every key of the window in one table: what makes the menus, the list under F1 and the test that presses them.
#pragma once
#include <QKeySequence>
#include <QString>

#include <vector>

namespace ohmo {

/// Where a key works.
enum class ActionPlace { JobMenu, EditMenu, ViewMenu, BenchLine, Map, TraceMap, PartsTable };

struct ActionInfo {
    QString id;
    QString text;
    QKeySequence key;
    ActionPlace place;
    bool in_menu() const { return place <= ActionPlace::ViewMenu; }
};

/// In the order of the menus; keys of the bench line, the map and the parts table, which are no menu entries, last.
std::vector<ActionInfo> all_actions();

} // namespace ohmo
