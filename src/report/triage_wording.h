// SPDX-License-Identifier: GPL-3.0-or-later
// What is asked before the cover comes off, and what it came to, for people.
#pragma once
#include "posterior/triage.h"
#include "readings/tries.h"

#include <string>
#include <string_view>
#include <vector>

namespace ohmo::wording {

std::string outside_check(std::string_view id);      ///< "Plug fuse"
std::string outside_answer(std::string_view answer); ///< "blown"
std::string outside_how(std::string_view id);        ///< what to do, in a sentence
std::string verdict_title(const Triage& triage);
std::string verdict_text(const Triage& triage); ///< what it means and what would settle it
/// "Ran 4 of 10 tries: warm 3 of 3, cold 1 of 7. Starts better warm (97 %)."
std::string tries(const Practice& practice, const TryTrend& trend);
/// Of the tries since a repair, with the trend before it: how much they prove.
std::string tries_since(const Practice& practice, const TryTrend& before, const TryTrend& since);
/// A sentence for each time of a unit that comes and goes: as it came, and after each repair.
std::vector<std::string> all_tries(const Practice& practice, const std::vector<std::vector<Try>>& times);

} // namespace ohmo::wording
