// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/expectation.h"

#include <array>

namespace ohmo {

std::string_view lamp_look_name(LampLook look) {
    static constexpr std::array<std::string_view, 5> names = {"dark", "flash-then-dark", "flash-then-glow", "pulsing", "bright"};
    return names[static_cast<std::size_t>(look)];
}

Expectation expected_of(const Behaviour& behaviour, const Figures& figures, const Board& board, const std::optional<LampChoice>& lamp) {
    Expectation out{behaviour, figures, std::nullopt};
    if (!board.mains || !lamp) return out;
    Expectation::InSeries shown{lamp->lamp.watts0, LampLook::Dark, 0};
    switch (behaviour.running) {
    case Running::NoInput:
        break;
    case Running::BlowsFuse:
        shown.look = LampLook::Bright;
        shown.volts = board.mains->volts;
        break;
    case Running::NoStart:
        shown.look = figures.bulk_volts > 0 ? LampLook::FlashThenDark : LampLook::Dark;
        break;
    case Running::Hiccup:
        shown.look = LampLook::Pulsing;
        break;
    case Running::High:
    case Running::Weak:
    case Running::Normal:
        if (!lamp->points.upper) { // more than the lamp lets through: it starts and stalls
            shown.look = LampLook::Pulsing;
            break;
        }
        shown.look = LampLook::FlashThenGlow;
        shown.volts = board.mains->volts - *lamp->points.upper;
        break;
    }
    out.lamp = shown;
    return out;
}

} // namespace ohmo
