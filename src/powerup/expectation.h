// SPDX-License-Identifier: GPL-3.0-or-later
// What a unit with a set of faults would show on the bench if it were switched on as it is: to hold a story against the complaint and
// against live readings, not an invitation to try.
#pragma once
#include "damage/figures.h"
#include "powerup/ladder.h"

#include <optional>
#include <string_view>

namespace ohmo {

/// A lamp in series with the mains.
enum class LampLook {
    Dark,
    FlashThenDark, ///< the bulk capacitor charges, then nothing is drawn
    FlashThenGlow,
    Pulsing, ///< starts and stops
    Bright,
};
std::string_view lamp_look_name(LampLook look);

struct Expectation {
    Behaviour behaviour;
    Figures figures; ///< at full load
    struct InSeries {
        double watts = 0; ///< of the lamp
        LampLook look = LampLook::Dark;
        double volts = 0; ///< across it once things are steady
    };
    std::optional<InSeries> lamp; ///< on boards with mains
};

Expectation expected_of(const Behaviour& behaviour, const Figures& figures, const Board& board, const std::optional<LampChoice>& lamp);

} // namespace ohmo
