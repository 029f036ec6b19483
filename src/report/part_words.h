// SPDX-License-Identifier: GPL-3.0-or-later
// A part's sheet in words: the judgement with its reasons, and each test.
#pragma once
#include "job/part_sheet.h"

#include <string>
#include <vector>

namespace ohmo::wording {

struct PartReason {
    enum class Sign { For, Against, Open } sign = Sign::Open; ///< for or against its being sound
    std::string text;
};

std::string part_judgement(const Analysis& analysis, const PartSheet& sheet); ///< "C5: bad, >99 %"
std::vector<PartReason> part_reasons(const Analysis& analysis, const PartSheet& sheet);
std::string shown(Quantity what, const Shown& shown);                          ///< "80 µF … 120 µF", "over range"
std::string test_name(const PartTest& test);                                   ///< "D–S ohms"
std::string test_read(const PartTest& test);                                   ///< "410 mΩ ✕ low", empty while unread
std::string test_failures(const Board& board, int part, const PartTest& test); ///< "shorted 0.2 … 2 Ω"
std::string test_sisters(const Board& board, const PartTest& test);            ///< "C17 46 mΩ, C18 52 mΩ"

} // namespace ohmo::wording
