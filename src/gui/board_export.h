// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "gui/stations/station.h"

namespace ohmo {

/// Asks for a name and writes the board: parts list (.csv), tables (.md), netlist (.cir), picture of the map (.svg, .png).
/// `said`: what became of it.
void export_board(const Collaborators& with, QWidget* window, const std::function<void(const QString& what, bool good)>& said);

} // namespace ohmo
