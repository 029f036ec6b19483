// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/design_wording.h"

#include "base/engineering.h"

#include <fmt/format.h>

#include <cmath>

namespace ohmo::wording {
namespace {

std::string volts(double v) { return format_quantity(v, "V"); }
std::string amps(double a) { return format_quantity(a, "A"); }

} // namespace

std::string design_sum(const DesignSum& s) {
    const auto from = [&](std::size_t k) { return k < s.from.size() ? s.from[k] : 0.0; };
    const auto of = [&](const std::string& text) { return s.of.empty() ? text : s.of + ": " + text; };
    const auto with = [&](const std::string& text, std::string_view unit) {
        return of(fmt::format("{}: {}, chosen {}", text, format_quantity(s.wanted, unit), format_nominal(s.chosen, unit)));
    };
    switch (s.kind) {
    case SumKind::InputWatts:
        return of(fmt::format("{} out at {:.0f} % efficiency draw {}", format_quantity(from(0), "W"), 100 * from(1),
                              format_quantity(s.chosen, "W")));
    case SumKind::Crest:
        return of(from(1) > 1 ? fmt::format("{} rms, doubled: 2 × √2 × that is {}", volts(from(0)), volts(s.chosen))
                              : fmt::format("{} rms: √2 × that is {}", volts(from(0)), volts(s.chosen)));
    case SumKind::BulkFarads:
        return with(fmt::format("{} between crests may take {} to {}", format_quantity(from(0), "W"), volts(from(1)), volts(from(2))), "F");
    case SumKind::BulkVolts:
        return with("across it at the most", "V");
    case SumKind::BleederOhms:
        return with(fmt::format("from {} to {} in {:.0f} s", volts(from(0)), volts(from(1)), from(2)), "Ω");
    case SumKind::FuseAmps:
        return with(fmt::format("{} from {}, with room for the surge", format_quantity(from(0), "W"), volts(from(1))), "A");
    case SumKind::InrushOhms:
        return with(fmt::format("{} may drive {} at switch-on", volts(from(0)), amps(from(1))), "Ω");
    case SumKind::SurgeVolts:
        return with(fmt::format("above a line of {}", volts(from(0))), "V");
    case SumKind::VoltsPerTurn:
        return of(fmt::format("{} a turn; rails out by {:.1f} % at the most", volts(s.chosen), 100 * from(0)));
    case SumKind::PrimaryTurns:
        return of(fmt::format("{} over {} a turn: {:.0f} turns on the primary", volts(from(0)), volts(from(1)), s.chosen));
    case SumKind::SupplyTurns:
        return of(fmt::format("{:.0f} turns give the controller {}", s.chosen, volts(from(0))));
    case SumKind::PeakAmps:
        return of(fmt::format("2 × {} over {} × {:.2f} of the time: {} at the peak", format_quantity(from(0), "W"), volts(from(1)), from(2),
                              amps(s.chosen)));
    case SumKind::PrimaryHenry:
        return with(fmt::format("on for {:.2f} of the time at {}", from(0), format_quantity(from(1), "Hz")), "H");
    case SumKind::SenseOhms:
        return with(fmt::format("stops the pulse above {}", amps(from(0))), "Ω");
    case SumKind::SwitchVolts:
        return with("stands when it blocks", "V");
    case SumKind::SwitchAmps:
        return with(fmt::format("carries {} at the peak", amps(from(0))), "A");
    case SumKind::ClampOhms:
        return with(fmt::format("burns at {} what the leakage stores", volts(from(0))), "Ω");
    case SumKind::StartOhms:
        return with(fmt::format("lets {} through", amps(from(0))), "Ω");
    case SumKind::RectifierVolts:
        return with(fmt::format("{} in reverse", volts(from(0))), "V");
    case SumKind::RectifierAmps:
        return with(fmt::format("passes {} on average", amps(from(0))), "A");
    case SumKind::RailFarads:
        return with(fmt::format("ripple of {} at {}", volts(from(0)), amps(from(1))), "F");
    case SumKind::RailVolts:
        return with(fmt::format("on {}", volts(from(0))), "V");
    case SumKind::DividerOhms:
        return with(fmt::format("{} divided down to {}", volts(from(0)), volts(from(1))), "Ω");
    case SumKind::SecondaryVolts:
        return with(fmt::format("{} and {} lost on the way, on a low line, rms", volts(from(0)), volts(from(1))), "V");
    case SumKind::RegulatorWatts:
        return of(s.chosen > 0 ? fmt::format("from {} at {} it burns {}", volts(from(0)), amps(from(1)), format_quantity(s.wanted, "W"))
                               : fmt::format("a series regulator from {} at {} would burn {}: a converter chip instead", volts(from(0)),
                                             amps(from(1)), format_quantity(s.wanted, "W")));
    case SumKind::ChokeHenry:
        return with(fmt::format("{} with {} of ripple", volts(from(0)), amps(from(1))), "H");
    case SumKind::LimitOhms:
        return with(fmt::format("limits above {}", amps(from(0))), "Ω");
    }
    return {};
}

std::string option(Option o) {
    switch (o) {
    case Option::Inrush:
        return "Inrush limiter";
    case Option::LineFilters:
        return "Common-mode chokes";
    case Option::SurgeAbsorber:
        return "Surge absorber";
    case Option::InputSwitch:
        return "Switch at the input";
    case Option::VoltageLink:
        return "Link for 120 V";
    case Option::Snubber:
        return "Snubber at the switch";
    case Option::Damper:
        return "Damper across the switches";
    case Option::EarthCapacitors:
        return "Capacitors to earth";
    case Option::Standby:
        return "Standby supply";
    case Option::PiFilter:
        return "Inductor and second capacitor";
    case Option::OverVoltage:
        return "Over-voltage protection";
    case Option::PowerLed:
        return "Power LED";
    case Option::MinimumLoad:
        return "Minimum load resistors";
    case Option::CurrentLimit:
        return "Current limit transistor";
    case Option::Boards:
        return "Boards on the rails";
    }
    return {};
}

std::string option_value(Option o, int value) {
    const auto& info = option_info(o);
    if (value < 0 || value >= static_cast<int>(info.values.size())) return {};
    const std::string word(info.values[static_cast<std::size_t>(value)]);
    if (word == "none") return word;
    if (o == Option::VoltageLink) return word == "open" ? "open" : "closed, doubles";
    if (o == Option::Inrush) return word == "resistor" ? "fusible resistor" : word;
    if (o == Option::Snubber) return word == "zener" ? "Zener and diode" : "resistor and diode";
    if (o == Option::OverVoltage) return word == "clamp" ? "Zener clamps" : "thyristor crowbars";
    return word;
}

std::string feed(const Supply& s) {
    const std::string figure = format_nominal(s.volts, "V");
    if (s.feed == Feed::DirectVolts) return "direct volts, " + figure;
    return fmt::format("{}, {} {:g} Hz", s.feed == Feed::Mains ? "mains" : "an AC adapter", figure, s.hertz);
}

} // namespace ohmo::wording
