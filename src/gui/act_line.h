// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "advice/next_reading.h"

#include <QString>

namespace ohmo {

/// The text a technician would type into the bench line for this act, its value left out.
QString line_for(const Board& board, const std::vector<MeterProfile>& meters, const NextAct& act);

} // namespace ohmo
