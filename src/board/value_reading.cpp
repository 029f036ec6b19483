// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/value_reading.h"

#include "base/e_series.h"
#include "base/engineering.h"
#include "base/text.h"
#include "board/nominal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cctype>
#include <cmath>
#include <regex>

namespace ohmo {
namespace {

constexpr double kMostMicro = 0.1; // farad: larger ones are written as they are
constexpr double kSame = 1e-6;     // relative: the same figure written in two ways

bool same(double a, double b) { return std::fabs(a - b) <= kSame * std::max(std::fabs(a), std::fabs(b)); }

bool resistance(PartKind kind) { return is_resistor_like(kind); }

void add(std::vector<ValueReading>& out, ValueReading one) {
    if (std::none_of(out.begin(), out.end(), [&](const ValueReading& r) { return r.value == one.value; })) out.push_back(std::move(one));
}

// A figure that stands on parts as it is: 47, 4.7, 470 – two figures of the series of 24.
bool preferred(double value) { return value > 0 && same(nearest_preferred(value, 24), value); }

bool plain_number(const std::string& text) { return !text.empty() && text.find_first_not_of("0123456789.,") == std::string::npos; }

// Markings of resistors and capacitors. On a ceramic plain digits are always a code; on a can they are microfarads.
std::vector<ValueReading> coded(PartKind kind, const std::string& text) {
    const bool ohms = resistance(kind);
    const char unit = ohms ? 'R' : 'F';
    std::vector<ValueReading> codes, plain;
    if (const auto meanings = decode_marking(text))
        for (const auto& m : *meanings)
            if (m.quantity == (ohms ? "resistance" : "capacitance")) codes.push_back({letter_code(m.value, unit), m.volts, m.scheme});
    const auto words = split_words(text);
    const auto figure = words.size() == 1 ? parse_quantity(text) : parse_quantity("");
    if (figure && *figure > 0) {
        if (ohms || !plain_number(text)) plain.push_back({letter_code(*figure, unit), {}, {}});
        if (!ohms && plain_number(text) && is_wet_or_solid_electrolytic(kind))
            plain.push_back({letter_code(*figure * 1e-6, unit), {}, MarkingScheme::Capacitor});
    }
    const bool as_printed = figure && (preferred(*figure) || !plain_number(text));
    std::vector<ValueReading> out;
    for (bool printed : {as_printed, !as_printed})
        for (const auto& one : printed ? plain : codes) add(out, one);
    return out;
}

} // namespace

std::string letter_code(double value, char unit) {
    struct Prefix {
        double factor;
        char letter;
    };
    static constexpr Prefix prefixes[] = {{1e9, 'G'}, {1e6, 'M'}, {1e3, 'k'}, {1, 0}, {1e-3, 'm'}, {1e-6, 'u'}, {1e-9, 'n'}, {1e-12, 'p'}};
    if (!(value > 0) || !std::isfinite(value)) return fmt::format("{:g}", value);
    Prefix use = prefixes[7];
    for (const auto& p : prefixes)
        if (value >= p.factor * (1 - kSame)) {
            use = p;
            break;
        }
    if (unit == 'R' && use.factor < 1) use = {1, 0};                               // 0R33, not 330m
    if (unit == 'F' && use.factor > 1e-6 && value < kMostMicro) use = {1e-6, 'u'}; // 2200u, as it is printed
    const char letter = use.letter != 0 ? use.letter : unit == 'R' ? unit : '\0';
    std::string figure = fmt::format("{:.6g}", value / use.factor);
    if (letter == 0) return figure;
    const auto point = figure.find('.');
    if (point == std::string::npos) return figure + letter;
    figure[point] = letter;
    return figure;
}

namespace {

constexpr double kMostCan = 0.1, kMostOther = 1e-3; // farad: a larger figure is a code or in microfarads

// A unit that stands apart belongs to the figure before it, a count before it does not.
std::vector<std::string> figures(PartKind kind, std::string_view text) {
    std::string plain = replaced(replaced(std::string(text), "/", " "), "×", "x");
    for (const char* ohm : {"Ω", "Ω"})
        for (auto at = plain.find(ohm); at != std::string::npos; at = plain.find(ohm, at + 1)) { // 0Ω22
            const auto after = at + std::string_view(ohm).size();
            if (after < plain.size() && std::isdigit(static_cast<unsigned char>(plain[after])) != 0) plain.replace(at, after - at, "R");
        }
    std::vector<std::string> out;
    for (std::string word : split_words(plain)) {
        if (lowered(word) == "x" && !out.empty()) {
            out.pop_back();
            continue;
        }
        if (const auto x = word.find_first_of("xX"); x != std::string::npos && x > 0 && plain_number(word.substr(0, x)))
            word.erase(0, x + 1);
        const std::string upper = uppered(word);
        for (const char* micro : {"MFD", "MF"}) // of old cans; "mF" is what it says
            if (is_capacitor(kind) && upper.ends_with(micro) && !word.ends_with("mF")) {
                word = word.substr(0, word.size() - std::string_view(micro).size()) + "uF";
                break;
            }
        if (!out.empty() && plain_number(out.back()) && std::isdigit(static_cast<unsigned char>(word.front())) == 0 &&
            word.find_first_of("VAW%") == std::string::npos && parse_quantity(out.back() + word))
            out.back() += word;
        else if (!word.empty())
            out.push_back(word);
    }
    return out;
}

} // namespace

std::optional<double> printed_figure(PartKind kind, std::string_view text) {
    static const std::regex disc("([0-9]+(?:[.,][0-9]+)?)D-?[0-9]+.*", std::regex::icase); // an inrush part: 10D-9 is 10 ohm cold
    for (const auto& word : figures(kind, text)) {
        std::smatch found;
        if (kind == PartKind::Thermistor && std::regex_match(word, found, disc))
            if (const auto cold = parse_quantity(found[1].str())) return *cold;
        if (word.size() > 1 && std::string_view("VAW%").find(word.back()) != std::string_view::npos) continue;
        const auto may_be = [&](double figure) {
            return !is_capacitor(kind) || figure < (is_wet_or_solid_electrolytic(kind) ? kMostCan : kMostOther);
        };
        const auto figure = parse_quantity(word);
        if (figure && may_be(*figure)) return *figure;
        if (figure && is_capacitor(kind) && !is_wet_or_solid_electrolytic(kind) && plain_number(word) &&
            word.find_first_of(".,") != std::string::npos)
            return *figure * 1e-6;
        if (!resistance(kind) && !is_capacitor(kind)) continue;
        for (const auto& reading : coded(kind, word))
            if (const auto value = parse_quantity(reading.value); value && may_be(*value)) return *value;
    }
    return std::nullopt;
}

std::vector<ValueReading> value_readings(PartKind kind, std::string_view text) {
    const std::string wanted = trimmed(text);
    if (wanted.empty()) return {};
    if (resistance(kind) || is_capacitor(kind)) {
        auto out = coded(kind, wanted);
        if (!out.empty()) return out;
    }
    Part part;
    part.kind = kind;
    part.value = wanted;
    if (!nominal_value(part)) return {};
    return {{wanted, {}, {}}};
}

} // namespace ohmo
