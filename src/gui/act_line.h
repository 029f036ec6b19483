// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "advice/next_reading.h"
#include "appcore/session.h"
#include "repair/rework.h"

#include <QString>

#include <span>

namespace ohmo {

/// What may be done now, best first: while mains is connected the volts to read, once cold readings are unlocked those; nothing else.
std::span<const NextAct> acts_now(const Session& session);

/// The text a technician would type into the bench line for this act, its value left out.
QString line_for(const Board& board, const std::vector<MeterProfile>& meters, const NextAct& act);

/// The same for a check of new work.
QString line_for(const Board& board, const ReworkCheck& check);

/// The name of the band that a value falls into.
QString verdict_of(const Board& board, const NextAct& act, double value, bool over);

} // namespace ohmo
