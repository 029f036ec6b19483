// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/quantities.h"

#include <algorithm>
#include <array>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kNowhere = 1e9;

// The densities are one over the length of the score axis, rounded.
constexpr std::array<QuantityInfo, 9> kQuantities = {{
    {Quantity::Ohms, "ohms", "ohm", "Ω", true, 0.1, 0, 2e7, 2e7, 1 / 19.0},
    {Quantity::Diode, "diode", "diode", "V", false, 0, 0, 3, 3.0, 1 / 3.0},
    {Quantity::Continuity, "continuity", "beep", "", false, 0, -0.5, 1.5, std::nullopt, 0.5},
    {Quantity::Farads, "farads", "farads", "F", true, kNoFarads, 0, 0.1, std::nullopt, 1 / 19.0},
    {Quantity::Esr, "esr", "esr", "Ω", true, 0.02, 0, 100, 100.0, 1 / 9.0},
    {Quantity::Leakage, "leakage", "leakage", "A", true, 1e-8, 0, 1e-3, std::nullopt, 1 / 12.0}, // 10 nA: damp and flux
    {Quantity::Residue, "scope-residue", "residue", "V", false, 0, 0, 2, std::nullopt, 0.5},
    {Quantity::VoltsDirect, "volts-dc", "volts", "V", false, 0, -1000, 1000, std::nullopt, 1 / 2000.0},
    {Quantity::VoltsAlternating, "volts-ac", "ac", "V", false, 0, 0, 1000, std::nullopt, 1 / 1000.0},
}};

} // namespace

const QuantityInfo& quantity_info(Quantity what) { return kQuantities[static_cast<std::size_t>(what)]; }

double score_axis(Quantity what, double value) {
    const auto& q = quantity_info(what);
    return q.logarithmic ? std::log(std::max(value, 0.0) + q.offset) : value;
}

double score_value(Quantity what, double x) {
    const auto& q = quantity_info(what);
    return std::max(0.0, q.logarithmic ? std::exp(x) - q.offset : x);
}

double over_edge(Quantity what) {
    const auto& over = quantity_info(what).over;
    return over ? score_axis(what, *over) : kNowhere;
}

std::string_view quantity_name(Quantity what) { return quantity_info(what).name; }

std::optional<Quantity> quantity_named(std::string_view name) {
    for (const auto& q : kQuantities)
        if (q.name == name && !under_power(q.what)) return q.what;
    return std::nullopt;
}

} // namespace ohmo
