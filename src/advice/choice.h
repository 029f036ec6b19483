// SPDX-License-Identifier: GPL-3.0-or-later
// Which of many acts are offered. Internal to the next reading.
#pragma once
#include "advice/next_reading.h"

#include <vector>

namespace ohmo {

/// By their rate; of equal ones the earlier.
void best_first(std::vector<NextAct>& acts);

/// The best so many of a sorted list, and among them the best of each way of going on: not twelve leads on one rail.
void keep_a_choice(std::vector<NextAct>& acts, std::size_t most);

} // namespace ohmo
