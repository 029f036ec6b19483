// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/open_ends.h"
#include "gui/stations/station.h"

class QVBoxLayout;

namespace ohmo {

/// What the traced board still lacks, a row each with what mends it: a step that is logged at once, or a line begun in the bench line.
class OpenEndsList : public QWidget {
    Q_OBJECT
public:
    explicit OpenEndsList(const Collaborators& with, QWidget* parent = nullptr);
    int count() const { return static_cast<int>(m_ends.size()); }

private:
    void refresh();
    QWidget* row(const OpenEnd& end, int number);

    Collaborators m_with;
    std::vector<OpenEnd> m_ends;
    QVBoxLayout* m_rows = nullptr;
};

} // namespace ohmo
