// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "appcore/session.h"
#include "gui/selection.h"
#include "gui/theme/theme.h"

#include <QListWidget>

#include <map>

namespace ohmo {

/// Parts by suspicion with their likeliest fault, a bar, and how the last entry moved them.
class SuspectList : public QListWidget {
    Q_OBJECT
public:
    SuspectList(const Session& session, Selection& selection, const ThemeSource& theme, QWidget* parent = nullptr);

private:
    class Delegate;
    void refresh();
    void rest(const Analysis& a);
    const Session& m_session;
    Selection& m_selection;
    std::map<int, double> m_before, m_now; // per cent by part, before and after the last change of the journal
    std::size_t m_entries = 0;
    bool m_filling = false;
};

} // namespace ohmo
