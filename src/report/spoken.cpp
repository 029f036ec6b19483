// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/spoken.h"

#include "base/text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <map>
#include <utility>
#include <vector>

namespace ohmo {
namespace {

const std::map<std::string, std::string, std::less<>> kUnits = {{"Ω", "ohms"},    {"V", "volts"},   {"A", "amperes"},
                                                                {"F", "farads"},  {"H", "henries"}, {"W", "watts"},
                                                                {"s", "seconds"}, {"J", "joules"},  {"min", "minutes"}};
const std::map<std::string, std::string, std::less<>> kPrefixes = {{"p", "pico"},  {"n", "nano"}, {"µ", "micro"},
                                                                   {"m", "milli"}, {"k", "kilo"}, {"M", "mega"}};
const std::map<std::string, std::string, std::less<>> kWords = {{"+", "plus"},     {"−", "minus"},   {"-", "minus"}, {"ESR", "E S R"},
                                                                {"DC", "D C"},     {"AC", "A C"},    {"=", "is"},    {"%", "per cent"},
                                                                {"°C", "degrees"}, {"no.", "number"}};

bool is_number(std::string_view word) {
    return !word.empty() &&
           std::all_of(word.begin(), word.end(), [](unsigned char c) { return std::isdigit(c) || c == '.' || c == ','; }) &&
           std::isdigit(static_cast<unsigned char>(word.front()));
}

// "kΩ" is kilo and ohms; empty for what is no unit.
std::string unit_word(const std::string& word) {
    if (const auto at = kUnits.find(word); at != kUnits.end()) return at->second;
    for (const auto& [prefix, name] : kPrefixes) {
        if (!word.starts_with(prefix)) continue;
        const auto at = kUnits.find(word.substr(prefix.size()));
        if (at == kUnits.end()) continue;
        const bool one_vowel = at->second.front() == 'o' && name.back() != 'i'; // kilohms, megohms, but milliohms
        return (one_vowel ? name.substr(0, name.size() - 1) : name) + at->second;
    }
    return {};
}

// A rail or a polarity: "+24V" is plus 24 volts, "-12V" minus 12 volts.
std::string signed_word(const std::string& word) {
    for (const auto& [sign, said] : {std::pair("+", "plus "), std::pair("-", "minus "), std::pair("−", "minus ")}) {
        const std::string_view mark(sign);
        if (!word.starts_with(mark) || word.size() == mark.size()) continue;
        const std::string rest = word.substr(mark.size());
        const auto digits = rest.find_first_not_of("0123456789.");
        const std::string unit = digits == 0 || digits == std::string::npos ? std::string() : unit_word(rest.substr(digits));
        return said + (unit.empty() ? rest : rest.substr(0, digits) + " " + unit);
    }
    return word;
}

std::string said(const std::string& word, bool after_number) {
    if (after_number)
        if (const auto unit = unit_word(word); !unit.empty()) return unit;
    if (const auto at = kWords.find(word); at != kWords.end()) return at->second;
    return signed_word(word);
}

} // namespace

std::string spoken(std::string_view text) {
    std::string plain(text);
    for (const auto& [mark, pause] : std::array<std::pair<const char*, const char*>, 7>{
             {{" (", ", "}, {")", ""}, {" – ", ", "}, {"–", " to "}, {"…", ""}, {"·", ","}, {" ↑", ", rising"}}})
        plain = replaced(plain, mark, pause);
    std::vector<std::string> words;
    bool after_number = false;
    for (const auto& word : split_words(plain)) {
        const auto core = word.substr(0, word.find_last_not_of(",;:.") + 1);
        const std::string tail = word.substr(core.size());
        words.push_back(core.empty() ? word : said(core, after_number) + tail);
        after_number = is_number(core);
    }
    return joined(words, " ");
}

} // namespace ohmo
