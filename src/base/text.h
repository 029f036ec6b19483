// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

std::string trimmed(std::string_view text);
std::string lowered(std::string_view text);                            ///< ASCII only; other bytes stay
std::string uppered(std::string_view text);                            ///< ASCII only; other bytes stay
std::vector<std::string> split_words(std::string_view text);           ///< at blanks, no empty words
std::vector<std::string> split(std::string_view text, char separator); ///< keeps empty fields
std::string joined(const std::vector<std::string>& items, std::string_view separator);
bool all_digits(std::string_view text); ///< false for an empty text
std::string replaced(std::string text, std::string_view from, std::string_view to);
std::string in_words(std::string_view word); ///< a word of the vocabulary for people: "led-only" becomes "LED only"

} // namespace ohmo
