// SPDX-License-Identifier: GPL-3.0-or-later
// How to prove that new work is sound, in words.
#include "base/engineering.h"
#include "base/text.h"
#include "readings/quantities.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::wording {
namespace {

// What shows which way round a part stands.
std::string right_way_round(const Part& part) {
    switch (part.kind) {
    case PartKind::Electrolytic:
        return "stripe at −";
    case PartKind::Tantalum:
        return "mark at +";
    case PartKind::Diode:
    case PartKind::Schottky:
    case PartKind::Zener:
        return "ring at K";
    case PartKind::Bridge:
        return "+ and ~ as printed";
    default:
        return "its mark or flat side as the old one stood";
    }
}

std::string slip(const Part& part, const Slip& s) {
    switch (s.kind) {
    case SlipKind::LiftedPad:
        return "lifted pad at " + s.pin;
    case SlipKind::Bridge:
        return fmt::format("solder between {} and {}", s.pin, s.other);
    case SlipKind::Reversed:
        return "wrong way round";
    case SlipKind::WrongValue:
        return fmt::format("{} its value ({})", s.factor > 1 ? "ten times" : "a tenth of", part.value);
    }
    return {};
}

std::string listed(std::vector<std::string> items) {
    items.erase(std::unique(items.begin(), items.end()), items.end());
    return joined(items, ", ");
}

} // namespace

std::string work_check(const Board& board, const ReworkCheck& c) {
    const Part& part = board.part(c.part);
    switch (c.kind) {
    case CheckKind::Look: {
        std::vector<std::string> items;
        for (const auto& s : c.catches)
            items.push_back(s.kind == SlipKind::Reversed     ? right_way_round(part)
                            : s.kind == SlipKind::WrongValue ? "printed " + part.value
                                                             : fmt::format("no solder between {} and {}", s.pin, s.other));
        return fmt::format("Look at the new {}: {}", part.ref, listed(std::move(items)));
    }
    case CheckKind::Joined:
        return fmt::format("Beep from {} of the new {} to {}.{}", c.pin, part.ref, c.other.ref, c.other.role);
    case CheckKind::Reading:
        return fmt::format("{} across the new {} (red on {}, black on {})",
                           c.query.what == Quantity::Farads  ? "Capacitance"
                           : c.query.what == Quantity::Diode ? "Diode test"
                                                             : "Ohms",
                           part.ref, board.net_name(c.query.red), board.net_name(c.query.black));
    }
    return {};
}

std::string work_tells(const Board& board, const ReworkCheck& c) {
    const Part& part = board.part(c.part);
    std::vector<std::string> slips;
    for (const auto& s : c.catches) slips.push_back(slip(part, s));
    const std::string otherwise = listed(std::move(slips));
    if (c.kind == CheckKind::Look) return "otherwise: " + otherwise;
    if (c.kind == CheckKind::Joined) return "it beeps when all is well; silent: " + otherwise;
    const auto unit = wording::unit(c.query.what);
    return c.over ? fmt::format("over range when all is well; otherwise: {}", otherwise)
                  : fmt::format("{} … {} when all is well; otherwise: {}", format_quantity(c.low, unit), format_quantity(c.high, unit),
                                otherwise);
}

} // namespace ohmo::wording
