// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/package.h"

#include "board/nominal.h"

#include <algorithm>
#include <cmath>
#include <numeric>
#include <utility>

namespace ohmo {
namespace {

constexpr double kHeatSinkAmps = 4; // from here on silicon is cooled
constexpr double kHeatSinkVolts = 300;

double rails_watts(const Board& board) {
    return std::accumulate(board.rails.begin(), board.rails.end(), 0.0, [](double sum, const Rail& r) { return sum + r.watts(); });
}

// Wet cans hold about so much charge for their volume.
Package can_of(const Part& part, const Nominal& n) {
    const double coulombs = n.farads.value_or(47e-6) * n.volts.value_or(part.volts.value_or(25));
    const double across = std::clamp(5 + 50 * std::sqrt(coulombs), 5.0, 35.0);
    return {Body::Can, across, across, false};
}

Package silicon_of(const Part& part, const Nominal& n) {
    const bool power = n.amps.value_or(0) >= kHeatSinkAmps || n.volts.value_or(part.volts.value_or(0)) >= kHeatSinkVolts;
    if (!power && part.stage != "switch") return {Body::Legs, 5, 4, false};
    return {Body::Tab, 10, 5, true};
}

Package core_of(const Board& board, const Part& part, double watts) {
    const bool line = board.blueprint == "linear" || board.blueprint == "adapter"; // iron at the frequency of the mains
    const double side = line ? 28 + 3.6 * std::sqrt(watts) : 14 + 2.2 * std::sqrt(watts);
    const bool main = part.stage != "control" && part.pairs().size() > 1;
    return {Body::Core, main ? side : 0.6 * side, main ? 0.85 * side : 0.5 * side, false};
}

// The same whatever the rating; what is not here stands on no board.
constexpr std::pair<PartKind, Package> kAlways[] = {{PartKind::Tantalum, {Body::Box, 6, 3.5, false}},
                                                    {PartKind::Film, {Body::Box, 13, 6, false}},
                                                    {PartKind::XCapacitor, {Body::Box, 18, 9, false}},
                                                    {PartKind::YCapacitor, {Body::Disc, 8, 3.5, false}},
                                                    {PartKind::Ceramic, {Body::Box, 3.2, 1.8, false}},
                                                    {PartKind::Varistor, {Body::Disc, 13, 5, false}},
                                                    {PartKind::Thermistor, {Body::Disc, 13, 5, false}},
                                                    {PartKind::FusibleResistor, {Body::Rod, 12, 4.5, false}},
                                                    {PartKind::Bridge, {Body::Box, 16, 6, false}},
                                                    {PartKind::ShuntReference, {Body::Legs, 5, 4, false}},
                                                    {PartKind::IntegratedSwitch, {Body::Chip, 10, 7, false}},
                                                    {PartKind::Optocoupler, {Body::Chip, 5, 7, false}},
                                                    {PartKind::Inductor, {Body::Ring, 12, 12, false}},
                                                    {PartKind::Choke, {Body::Ring, 18, 18, false}},
                                                    {PartKind::Fuse, {Body::Tube, 22, 6, false}},
                                                    {PartKind::Switch, {Body::Box, 15, 12, false}},
                                                    {PartKind::Thyristor, {Body::Tab, 10, 5, false}},
                                                    {PartKind::Relay, {Body::Box, 19, 15, false}}};

} // namespace

Package package_of(const Board& board, int index) {
    const Part& part = board.part(index);
    const auto said = likely_value(part);
    const Nominal n = said ? *said : Nominal{};
    switch (part.kind) {
    case PartKind::Electrolytic:
        return can_of(part, n);
    case PartKind::Resistor:
        return n.watts.value_or(0.25) > 0.5 ? Package{Body::Rod, 14, 5, false} : Package{Body::Rod, 7, 2.6, false};
    case PartKind::Diode:
    case PartKind::Zener:
    case PartKind::Schottky:
        return n.amps.value_or(1) >= kHeatSinkAmps ? Package{Body::Tab, 10, 5, true} : Package{Body::Rod, 6, 2.8, false};
    case PartKind::Regulator:
        return {Body::Tab, 10, 5, n.amps.value_or(1) >= 1};
    case PartKind::Controller:
        return {Body::Chip, part.pins.size() > 8 ? 19.0 : 10.0, 7, false};
    case PartKind::Transformer:
        return core_of(board, part, rails_watts(board));
    case PartKind::Connector:
        return {Body::Terminals, 6.0 * static_cast<double>(std::max<std::size_t>(2, part.pins.size() / 2)), 9, false};
    default:
        break;
    }
    if (is_switch_device(part.kind)) return silicon_of(part, n);
    const auto always = std::find_if(std::begin(kAlways), std::end(kAlways), [&](const auto& row) { return row.first == part.kind; });
    return always == std::end(kAlways) ? Package{} : always->second;
}

} // namespace ohmo
