// SPDX-License-Identifier: GPL-3.0-or-later
// Marking codes of resistors, capacitors and fuses.
// Sources: IEC 60062 (letter code, three and four digits, colours, tolerance letters), EIA-96 table as round(10^(k/96)),
// IEC 60127 fuse characteristics FF F M T TT. Figures from memory, checked by the values in the tests.
#include "base/marking.h"

#include "base/engineering.h"
#include "base/text.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <regex>

namespace ohmo {
namespace {

constexpr double kMostFuseVolts = 2000;

using Meanings = std::vector<MarkingMeaning>;

std::optional<double> tolerance_letter(char c) {
    static const std::map<char, double> table = {{'B', 0.001}, {'C', 0.0025}, {'D', 0.005}, {'F', 0.01},
                                                 {'G', 0.02},  {'J', 0.05},   {'K', 0.10},  {'M', 0.20}};
    const auto at = table.find(c);
    return at == table.end() ? std::nullopt : std::optional(at->second);
}

// Removes a rated voltage ("16V", "16 V", "400VDC") from the words; the rest stays.
std::optional<double> take_volts(std::vector<std::string>& words) {
    for (std::size_t i = 0; i < words.size(); ++i) {
        const std::string word = uppered(words[i]);
        const auto v = word.find('V');
        if (word == "V" && i > 0) {
            if (const auto q = parse_quantity(words[i - 1])) {
                const double volts = *q;
                words.erase(words.begin() + static_cast<long>(i) - 1, words.begin() + static_cast<long>(i) + 1);
                return volts;
            }
        } else if (v != std::string::npos && v > 0) {
            const std::string tail = word.substr(v);
            if (tail != "V" && tail != "VDC" && tail != "VAC" && tail != "V~") continue;
            if (const auto q = parse_quantity(words[i].substr(0, v))) {
                words.erase(words.begin() + static_cast<long>(i));
                return *q;
            }
        }
    }
    return std::nullopt;
}

// "T3.15A", "F2AL250V", "630mAT", "T2A5"; the current alone, "4A", does not say how fast.
void fuse(const std::string& text, std::optional<double> volts, bool told, Meanings& out) {
    static const std::map<std::string, const char*> kinds = {
        {"FAST", "quick-acting"}, {"SLOW", "time-lag"}, {"FF", "very quick-acting"}, {"F", "quick-acting"},
        {"M", "medium time-lag"}, {"T", "time-lag"},    {"TT", "long time-lag"}};
    static const std::regex printed(
        "(FF|TT|F|T|M)?([0-9]+[.,]?[0-9]*|[0-9]+A[0-9]+|[.,][0-9]+)(MA|A)?[LHE]?(FAST|SLOW|FF|TT|F|T|M)?(?:([0-9]+)V(?:AC|DC|~)?)?");
    std::smatch found;
    const std::string upper = uppered(text);
    if (!std::regex_match(upper, found, printed)) return;
    const std::string speed = found[1].matched ? found[1].str() : found[4].str();
    if (found[1].matched != told || (!found[1].matched && !found[3].matched)) return;
    const auto value = parse_quantity(replaced(replaced(found[2].str(), "A", "."), ",", "."));
    if (!value || *value <= 0) return;
    if (found[5].matched) volts = parse_quantity(found[5].str()) ? std::optional(*parse_quantity(found[5].str())) : volts;
    if (volts && *volts > kMostFuseVolts) return; // two markings, not one
    out.push_back({MarkingScheme::Fuse, "rated current", *value * (found[3] == "MA" ? 1e-3 : 1), std::nullopt, volts,
                   speed.empty() ? "" : kinds.at(speed)});
}

// "6V2", "C5V1", "12V" on a Zener: its volts, before them the letter of its tolerance (common practice, no source).
void volts_code(const std::string& text, Meanings& out) {
    static const std::map<std::string, double> tolerances = {{"A", 0.01}, {"B", 0.02}, {"C", 0.05}, {"D", 0.1}, {"E", 0.2}};
    static const std::regex printed("([A-E]?)([0-9]+)(?:[.,]([0-9]+)V|V([0-9]*))");
    std::smatch found;
    if (!std::regex_match(text, found, printed)) return;
    const auto value = parse_quantity(found[2].str() + "." + found[3].str() + found[4].str() + "0");
    if (!value || *value <= 0) return;
    const auto tolerance = tolerances.find(found[1].str());
    out.push_back({MarkingScheme::Iec60062,
                   "voltage",
                   *value,
                   tolerance == tolerances.end() ? std::nullopt : std::optional(tolerance->second),
                   std::nullopt,
                   {}});
}

void letter_code(const std::string& text, std::optional<double> volts, Meanings& out) {
    const auto letter = text.find_first_of("RKMGpnuµmL");
    if (letter == std::string::npos) return;
    std::string code = text;
    std::optional<double> tolerance;
    if (code.size() > 2) {
        const char last = code.back();
        if (const auto t = tolerance_letter(last); t && code.size() - 1 != letter) {
            tolerance = t;
            code.pop_back();
        }
    }
    const char c = code[letter < code.size() ? letter : 0];
    if (code.find_first_not_of("0123456789RKMGpnuµm.") != std::string::npos) return;
    const auto value = parse_quantity(code);
    if (!value || *value <= 0) return;
    const bool capacitance = c == 'p' || c == 'n' || c == 'u' || c == 'm' || static_cast<unsigned char>(c) >= 0x80;
    out.push_back({MarkingScheme::Iec60062, capacitance ? "capacitance" : "resistance", *value, tolerance, volts, {}});
}

void digits_code(const std::string& text, std::optional<double> volts, Meanings& out) {
    std::string code = text;
    std::optional<double> tolerance;
    if (code.size() >= 4 && tolerance_letter(code.back()) && all_digits(code.substr(0, code.size() - 1))) {
        tolerance = tolerance_letter(code.back());
        code.pop_back();
    }
    if (!all_digits(code) || (code.size() != 3 && code.size() != 4)) return;
    const double significant = std::stod(code.substr(0, code.size() - 1));
    const double value = significant * std::pow(10.0, code.back() - '0');
    const auto scheme = code.size() == 3 ? MarkingScheme::ThreeDigit : MarkingScheme::FourDigit;
    const MarkingMeaning resistance{scheme, "resistance", value, tolerance, std::nullopt, {}};
    if (code.size() == 4) {
        // On a can with a voltage beside it, plain digits are microfarads.
        if (volts)
            out.push_back({MarkingScheme::Capacitor, "capacitance", std::stod(code) * 1e-6, tolerance, volts, {}});
        else
            out.push_back(resistance);
        return;
    }
    const MarkingMeaning capacitance{scheme, "capacitance", value * 1e-12, tolerance, volts, {}};
    if (volts) {
        out.push_back(capacitance);
        out.push_back({MarkingScheme::Capacitor, "capacitance", std::stod(code) * 1e-6, tolerance, volts, {}});
    } else {
        // Plain three digits stand on resistors and capacitors alike; 5 % and 10 % letters tell nothing either.
        out.push_back(resistance);
        out.push_back(capacitance);
    }
}

void can_marking(const std::string& text, std::optional<double> volts, Meanings& out) {
    if (!volts || !all_digits(text) || text.size() > 6 || text.size() == 3 || text.size() == 4) return;
    out.push_back({MarkingScheme::Capacitor, "capacitance", std::stod(text) * 1e-6, std::nullopt, volts, {}});
}

void eia96(const std::string& text, Meanings& out) {
    static const std::map<char, double> factors = {{'Z', 1e-3}, {'Y', 1e-2}, {'R', 1e-2}, {'X', 1e-1}, {'S', 1e-1}, {'A', 1},
                                                   {'B', 1e1},  {'H', 1e1},  {'C', 1e2},  {'D', 1e3},  {'E', 1e4},  {'F', 1e5}};
    if (text.size() != 3 || !all_digits(text.substr(0, 2))) return;
    const auto factor = factors.find(text[2]);
    const int index = std::stoi(text.substr(0, 2));
    if (factor == factors.end() || index < 1 || index > 96) return;
    const double base = std::round(std::pow(10.0, 2.0 + (index - 1) / 96.0));
    out.push_back({MarkingScheme::Eia96, "resistance", base * factor->second, 0.01, std::nullopt, {}});
}

void colour_bands(const std::vector<std::string>& words, Meanings& out) {
    static const std::map<std::string, int> digit = {{"black", 0},  {"brown", 1}, {"red", 2},  {"orange", 3},
                                                     {"yellow", 4}, {"green", 5}, {"blue", 6}, {"violet", 7},
                                                     {"purple", 7}, {"grey", 8},  {"gray", 8}, {"white", 9}};
    static const std::map<std::string, double> tolerance = {{"brown", .01},   {"red", .02},    {"green", .005}, {"blue", .0025},
                                                            {"violet", .001}, {"grey", .0005}, {"gold", .05},   {"silver", .10}};
    if (words.size() < 3 || words.size() > 6) return;
    const std::size_t figures = words.size() >= 5 ? 3 : 2;
    double value = 0;
    for (std::size_t i = 0; i < figures; ++i) {
        const auto d = digit.find(words[i]);
        if (d == digit.end()) return;
        value = value * 10 + d->second;
    }
    const std::string& power = words[figures];
    const auto p = digit.find(power);
    if (power == "gold")
        value *= 0.1;
    else if (power == "silver")
        value *= 0.01;
    else if (p != digit.end())
        value *= std::pow(10.0, p->second);
    else
        return;
    std::optional<double> spread = 0.20; // no tolerance band
    if (words.size() > figures + 1) {
        const auto t = tolerance.find(words[figures + 1]);
        if (t == tolerance.end()) return;
        spread = t->second;
    }
    out.push_back({MarkingScheme::ColourBands, "resistance", value, spread, std::nullopt, {}});
}

} // namespace

Result<std::vector<MarkingMeaning>> decode_marking(std::string_view marking) {
    Meanings out;
    std::string spaced = trimmed(marking);
    if (lowered(spaced).find_first_of("bgorvwy") != std::string::npos) {
        std::string bands = lowered(spaced);
        std::replace(bands.begin(), bands.end(), '-', ' ');
        colour_bands(split_words(bands), out);
    }
    if (out.empty()) {
        auto words = split_words(replaced(spaced, "μ", "µ"));
        const auto volts = take_volts(words);
        const auto numbers = std::count_if(words.begin(), words.end(), [](const std::string& w) { return all_digits(w); });
        if (numbers > 1) words.clear(); // "104 107": two markings, not one long number
        std::string text = replaced(joined(words, ""), "µ", "u");
        if (text.ends_with("F") && text.find_first_of("pnu") != std::string::npos) text.pop_back();
        fuse(text, volts, true, out);
        eia96(uppered(text), out);
        digits_code(uppered(text), volts, out);
        can_marking(text, volts, out);
        if (text != uppered(text) && text.find_first_of("pnu") == std::string::npos) text = uppered(text);
        letter_code(text, volts, out);
        fuse(text, volts, false, out);
        if (out.empty()) volts_code(uppered(spaced), out);
    }
    if (out.empty())
        return Problem{ProblemKind::UnreadableValue,
                       {},
                       std::string(marking),
                       "4K7, 472, 30C, 104, 2200 16V, T3.15A, 6V2, yellow-violet-red-gold",
                       0,
                       false};
    return out;
}

} // namespace ohmo
