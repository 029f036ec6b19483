// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/stations/station.h"

#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>

namespace ohmo {

/// What is known of the selected part, why it is suspected, and what can be logged about it with one click.
class PartCard : public QWidget {
    Q_OBJECT
public:
    explicit PartCard(const Collaborators& with, QWidget* parent = nullptr);

private:
    void refresh();
    void add_suspicion(int index);
    void add_looks(int index);
    void add_acts(int index);
    void log(Do act, const std::string& saw = {}, const std::string& mode = {});

    Collaborators m_with;
    QVBoxLayout* m_layout;
};

} // namespace ohmo
