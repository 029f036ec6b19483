// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>

namespace ohmo {

/// What stands on the screen as it is said aloud: units, signs and abbreviations as words, brackets as pauses.
std::string spoken(std::string_view text);

} // namespace ohmo
