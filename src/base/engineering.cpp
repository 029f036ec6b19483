// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"

#include "base/text.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <optional>

namespace ohmo {
namespace {

constexpr std::array<const char*, 9> kPrefixes = {"p", "n", "µ", "m", "", "k", "M", "G", "T"};

struct Scaled {
    double mantissa;
    const char* prefix;
};

// Rounds first, so that 999.96 becomes 1.00 k and not 1000.
Scaled scale(double value, int figures) {
    if (value == 0.0) return {0.0, ""};
    const double magnitude = std::floor(std::log10(std::fabs(value)));
    const double step = std::pow(10.0, magnitude - figures + 1);
    const double rounded = std::round(value / step) * step;
    int index = static_cast<int>(std::floor(std::log10(std::fabs(rounded)) / 3.0 + 1e-12)) + 4;
    index = std::clamp(index, 0, static_cast<int>(kPrefixes.size()) - 1);
    return {rounded / std::pow(1000.0, index - 4), kPrefixes[static_cast<std::size_t>(index)]};
}

std::string with_unit(std::string number, const char* prefix, std::string_view unit) {
    if (*prefix == 0 && unit.empty()) return number;
    return number + " " + prefix + std::string(unit);
}

std::optional<double> prefix_factor(char c) {
    switch (c) {
    case 'p':
        return 1e-12;
    case 'n':
        return 1e-9;
    case 'u':
        return 1e-6;
    case 'm':
        return 1e-3;
    case 'R':
        return 1.0;
    case 'k':
    case 'K':
        return 1e3;
    case 'M':
        return 1e6;
    case 'G':
        return 1e9;
    default:
        return std::nullopt;
    }
}

bool known_unit(std::string_view unit) {
    for (const char* known : {"", "ohm", "ohms", "Ohm", "F", "H", "V", "A", "W", "Hz", "s", "Vdc", "Vac", "VDC", "VAC"})
        if (unit == known) return true;
    return false;
}

std::optional<double> plain_number(std::string_view text) {
    double value = 0;
    const auto [end, error] = std::from_chars(text.data(), text.data() + text.size(), value);
    if (error != std::errc() || end != text.data() + text.size() || !std::isfinite(value)) return std::nullopt;
    return value;
}

} // namespace

std::string format_quantity(double value, std::string_view unit, int figures) {
    if (!std::isfinite(value)) return "–";
    const auto [mantissa, prefix] = scale(value, figures);
    const double size = std::fabs(mantissa);
    const int before = size >= 100 ? 3 : size >= 10 ? 2 : 1;
    return with_unit(fmt::format("{:.{}f}", mantissa, std::max(0, figures - before)), prefix, unit);
}

std::string format_nominal(double value, std::string_view unit) {
    if (!std::isfinite(value)) return "–";
    const auto [mantissa, prefix] = scale(value, 4);
    return with_unit(fmt::format("{:.4g}", mantissa), prefix, unit);
}

std::string format_share(double share) {
    if (!(share >= 0)) return "–";
    if (share > 0 && share < 0.005) return "<1 %";
    if (share < 1 && share > 0.995) return ">99 %";
    return fmt::format("{:.0f} %", share * 100);
}

Result<double> parse_quantity(std::string_view input) {
    std::string text = replaced(trimmed(input), "µ", "u");
    text = replaced(text, "μ", "u");
    text = replaced(text, "Ω", "ohm");
    text = replaced(text, "Ω", "ohm");
    text = replaced(text, "\u2212", "-");
    text = replaced(text, ",", ".");
    std::erase(text, ' ');
    const Problem unreadable{ProblemKind::UnreadableValue, {}, std::string(input), "68u, 4k7, 0R33, 2.9, 1.5M", 0, false};

    std::size_t at = 0;
    if (at < text.size() && (text[at] == '-' || text[at] == '+')) ++at;
    const std::size_t digits_from = at;
    while (at < text.size() && (std::isdigit(static_cast<unsigned char>(text[at])) != 0 || text[at] == '.')) ++at;
    if (at < text.size() && (text[at] == 'e' || text[at] == 'E') && at > digits_from) {
        std::size_t exp = at + 1;
        if (exp < text.size() && (text[exp] == '-' || text[exp] == '+')) ++exp;
        if (exp < text.size() && std::isdigit(static_cast<unsigned char>(text[exp])) != 0) {
            while (exp < text.size() && std::isdigit(static_cast<unsigned char>(text[exp])) != 0) ++exp;
            at = exp;
        }
    }
    std::string number = text.substr(0, at);
    if (!number.empty() && number.front() == '+') number.erase(0, 1);
    std::string_view rest = std::string_view(text).substr(at);
    double factor = 1.0;
    if (!rest.empty()) {
        if (const auto f = prefix_factor(rest.front()); f && !(rest == "m" && number.empty())) {
            factor = *f;
            rest.remove_prefix(1);
            std::size_t fraction = 0;
            while (fraction < rest.size() && std::isdigit(static_cast<unsigned char>(rest[fraction])) != 0) ++fraction;
            if (fraction > 0) {
                if (number.find_first_of(".eE") != std::string::npos) return unreadable;
                number += (number.empty() || number == "-" ? "0." : ".") + std::string(rest.substr(0, fraction));
                rest.remove_prefix(fraction);
            }
        }
    }
    if (!known_unit(rest)) return unreadable;
    const auto value = plain_number(number);
    if (!value) return unreadable;
    return *value * factor;
}

} // namespace ohmo
