// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/value_reading.h"

#include "base/e_series.h"
#include "base/engineering.h"
#include "base/text.h"
#include "board/nominal.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

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
