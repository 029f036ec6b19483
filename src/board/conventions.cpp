// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/conventions.h"

#include "base/engineering.h"
#include "base/text.h"
#include "board/practice.h"
#include "board/value_reading.h"

#include <algorithm>
#include <map>

namespace ohmo {
namespace {

// What the letters before the number stand for.
const std::vector<std::pair<std::string, PartKind>>& letters() {
    using K = PartKind;
    static const std::vector<std::pair<std::string, PartKind>> table = {{"R", K::Resistor},
                                                                        {"RF", K::FusibleResistor},
                                                                        {"FR", K::FusibleResistor},
                                                                        {"RT", K::Thermistor},
                                                                        {"NTC", K::Thermistor},
                                                                        {"TH", K::Thermistor},
                                                                        {"RV", K::Varistor},
                                                                        {"VDR", K::Varistor},
                                                                        {"MOV", K::Varistor},
                                                                        {"F", K::Fuse},
                                                                        {"FS", K::Fuse},
                                                                        {"C", K::Ceramic},
                                                                        {"CX", K::XCapacitor},
                                                                        {"CY", K::YCapacitor},
                                                                        {"L", K::Inductor},
                                                                        {"LF", K::Choke},
                                                                        {"T", K::Transformer},
                                                                        {"TR", K::Transformer},
                                                                        {"D", K::Diode},
                                                                        {"CR", K::Diode},
                                                                        {"LED", K::Diode},
                                                                        {"ZD", K::Zener},
                                                                        {"DZ", K::Zener},
                                                                        {"Z", K::Zener},
                                                                        {"VZ", K::Zener},
                                                                        {"BR", K::Bridge},
                                                                        {"DB", K::Bridge},
                                                                        {"BD", K::Bridge},
                                                                        {"Q", K::Mosfet},
                                                                        {"VT", K::BjtNpn},
                                                                        {"TS", K::BjtNpn},
                                                                        {"U", K::Controller},
                                                                        {"IC", K::Controller},
                                                                        {"OK", K::Optocoupler},
                                                                        {"OC", K::Optocoupler},
                                                                        {"PC", K::Optocoupler},
                                                                        {"P", K::Connector},
                                                                        {"J", K::Connector},
                                                                        {"CN", K::Connector},
                                                                        {"X", K::Connector},
                                                                        {"CON", K::Connector},
                                                                        {"S", K::Switch},
                                                                        {"SW", K::Switch},
                                                                        {"K", K::Relay},
                                                                        {"RY", K::Relay},
                                                                        {"RL", K::Relay},
                                                                        {"H", K::Lamp},
                                                                        {"LA", K::Lamp},
                                                                        {"M", K::Load},
                                                                        {"SCR", K::Thyristor},
                                                                        {"THY", K::Thyristor},
                                                                        {"TY", K::Thyristor}};
    return table;
}

} // namespace

std::optional<PartKind> kind_of_ref(const std::string& ref, const std::string& value, const std::vector<std::string>& roles) {
    const auto has = [&](const char* role) {
        return std::any_of(roles.begin(), roles.end(), [&](const std::string& r) { return uppered(r) == role; });
    };
    std::string start;
    for (char c : uppered(ref)) {
        if (c < 'A' || c > 'Z') break;
        start += c;
    }
    const auto known = std::find_if(letters().begin(), letters().end(), [&](const auto& one) { return one.first == start; });
    if (known == letters().end()) return std::nullopt;
    const PartKind kind = known->second;
    if (is_switch_device(kind)) {
        if (has("A") && has("K")) return PartKind::Thyristor;
        if (has("B")) return PartKind::BjtNpn;
        if (has("C") && has("G")) return PartKind::Igbt;
        if (has("G") || has("D")) return PartKind::Mosfet;
        return kind;
    }
    if (kind == PartKind::Controller) {
        if (has("IN") && has("OUT")) return PartKind::Regulator;
        if (has("A") && has("K")) return has("C") ? PartKind::Optocoupler : PartKind::ShuntReference;
        if (has("D") || has("SW")) return PartKind::IntegratedSwitch;
        return kind;
    }
    if (kind != PartKind::Ceramic) return kind;
    if (has("+")) return PartKind::Electrolytic;
    const auto readings = value_readings(PartKind::Ceramic, value);
    const auto farads = readings.empty() ? parse_quantity("") : parse_quantity(readings.front().value);
    return farads && *farads >= shipped_practice().electrolytic_from ? PartKind::Electrolytic : kind;
}

std::optional<PartKind> kind_of_word(const std::string& word) {
    using K = PartKind;
    static const std::map<std::string, PartKind> said = {
        {"npn", K::BjtNpn},   {"pnp", K::BjtPnp},    {"fusible", K::FusibleResistor}, {"ntc", K::Thermistor},
        {"mov", K::Varistor}, {"scr", K::Thyristor}, {"opto", K::Optocoupler},        {"coil", K::Inductor},
        {"led", K::Diode},    {"fet", K::Mosfet},    {"chip", K::Controller},         {"reference", K::ShuntReference}};
    const std::string lower = lowered(word);
    if (const auto kind = kind_from_name(lower)) return kind;
    const auto found = said.find(lower);
    return found == said.end() ? std::nullopt : std::optional(found->second);
}

} // namespace ohmo
