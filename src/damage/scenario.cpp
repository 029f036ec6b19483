// SPDX-License-Identifier: GPL-3.0-or-later
#include "damage/scenario.h"

#include <algorithm>
#include <array>

namespace ohmo {

std::vector<Fault> Scenario::faults() const {
    std::vector<Fault> out;
    for (const auto& s : steps) {
        // A part that got worse on the way (drain-source short, then all three pins) counts once, as it ended.
        const auto same = std::find_if(out.begin(), out.end(), [&](const Fault& f) { return f.part == s.fault.part; });
        if (same != out.end())
            *same = s.fault;
        else
            out.push_back(s.fault);
    }
    return out;
}

std::vector<Fault> Scenario::key() const {
    auto out = faults();
    std::sort(out.begin(), out.end());
    return out;
}

bool broken_with_noise(Cause cause) { return cause >= Cause::FuseI2t && cause <= Cause::CapacitorVolts; }

bool Scenario::violent() const {
    return std::any_of(steps.begin(), steps.end(), [](const Step& s) { return broken_with_noise(s.cause); });
}

std::string_view cause_name(Cause cause) {
    static constexpr std::array<std::string_view, 18> names = {
        "root",           "independent", "fuse-i2t",        "pulse-energy",    "surge-i2t",   "gate-volts",
        "pin-i2t",        "pin-current", "capacitor-volts", "switch-heat",     "drain-volts", "output-climbs",
        "rectifier-heat", "weak-drive",  "overcurrent",     "tantalum-margin", "blast",       "companion"};
    return names[static_cast<std::size_t>(cause)];
}

std::string_view cause_unit(Cause cause) {
    switch (cause) {
    case Cause::FuseI2t:
    case Cause::SurgeI2t:
    case Cause::PinI2t:
        return "A²s";
    case Cause::PulseEnergy:
        return "J";
    case Cause::GateVolts:
    case Cause::CapacitorVolts:
    case Cause::DrainVolts:
    case Cause::OutputClimbs:
    case Cause::TantalumMargin:
        return "V";
    case Cause::PinCurrent:
    case Cause::Overcurrent:
    case Cause::RectifierHeat:
        return "A";
    case Cause::Blast:
        return "mm";
    default:
        return "";
    }
}

} // namespace ohmo
