// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/part_kind.h"

#include "base/text.h"

#include <algorithm>

namespace ohmo {

const std::vector<KindInfo>& all_kinds() {
    using K = PartKind;
    using R = PinRule;
    static const std::vector<KindInfo> kinds = {
        {K::Resistor, "resistor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::FusibleResistor, "fusible-resistor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Thermistor, "thermistor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Varistor, "varistor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Fuse, "fuse", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Electrolytic, "electrolytic", R::Fixed, {"+", "-"}, "+", "-"},
        {K::Tantalum, "tantalum", R::Fixed, {"+", "-"}, "+", "-"},
        {K::Ceramic, "ceramic", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Film, "film", R::Fixed, {"1", "2"}, "1", "2"},
        {K::XCapacitor, "x-capacitor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::YCapacitor, "y-capacitor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Inductor, "inductor", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Choke, "choke", R::Pairs, {"1", "2"}, "1", "2"},
        {K::Transformer, "transformer", R::Pairs, {"P1", "P2"}, "P1", "P2"},
        {K::Diode, "diode", R::Fixed, {"A", "K"}, "A", "K"},
        {K::Schottky, "schottky", R::Fixed, {"A", "K"}, "A", "K"},
        {K::Zener, "zener", R::Fixed, {"A", "K"}, "A", "K"},
        {K::Bridge, "bridge", R::Fixed, {"~1", "~2", "+", "-"}, "+", "-"},
        {K::BjtNpn, "bjt-npn", R::Fixed, {"C", "B", "E"}, "C", "E"},
        {K::BjtPnp, "bjt-pnp", R::Fixed, {"C", "B", "E"}, "C", "E"},
        {K::Mosfet, "mosfet", R::Fixed, {"D", "G", "S"}, "D", "S"},
        {K::Igbt, "igbt", R::Fixed, {"C", "G", "E"}, "C", "E"},
        {K::Controller, "controller", R::Function, {}, "VCC", "GND"},
        {K::IntegratedSwitch, "integrated-switch", R::Function, {}, "D", "S"},
        {K::Regulator, "regulator", R::Function, {"IN", "OUT"}, "IN", "OUT"},
        {K::ShuntReference, "shunt-reference", R::Fixed, {"A", "K"}, "K", "A"},
        {K::Optocoupler, "optocoupler", R::Fixed, {"A", "K", "C", "E"}, "A", "K"},
        {K::Connector, "connector", R::Pairs, {"1", "1'"}, "1", "1'"},
        {K::Switch, "switch", R::Pairs, {"1", "2"}, "1", "2"},
        {K::Relay, "relay", R::Function, {"1", "2"}, "1", "2"},
        {K::Lamp, "lamp", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Load, "load", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Track, "track", R::Fixed, {"1", "2"}, "1", "2"},
        {K::Thyristor, "thyristor", R::Fixed, {"A", "K", "G"}, "A", "K"},
    };
    return kinds;
}

const KindInfo& kind_info(PartKind kind) { return all_kinds()[static_cast<std::size_t>(kind)]; }

std::optional<PartKind> kind_from_name(std::string_view name) {
    for (const auto& info : all_kinds())
        if (info.name == name) return info.kind;
    return std::nullopt;
}

bool allows_role(PartKind kind, std::string_view role) {
    const auto& info = kind_info(kind);
    if (std::find(info.roles.begin(), info.roles.end(), role) != info.roles.end()) return true;
    switch (kind) {
    case PartKind::Transformer:
        return role.size() >= 2 && std::string_view("PAS").find(role[0]) != std::string_view::npos && all_digits(role.substr(1));
    case PartKind::Connector: {
        if (role.ends_with('\'')) role.remove_suffix(1);
        return all_digits(role);
    }
    case PartKind::Switch:
    case PartKind::Choke:
        return all_digits(role);
    case PartKind::ShuntReference:
        return role == "R";
    case PartKind::Relay:
        return role == "C" || role == "NO" || role == "NC";
    default:
        return info.rule == PinRule::Function && !role.empty();
    }
}

bool is_capacitor(PartKind kind) { return kind >= PartKind::Electrolytic && kind <= PartKind::YCapacitor; }
bool is_wet_or_solid_electrolytic(PartKind kind) { return kind == PartKind::Electrolytic || kind == PartKind::Tantalum; }
bool loses_capacitance(PartKind kind) { return is_capacitor(kind) && kind != PartKind::Ceramic; }
bool is_resistor_like(PartKind kind) { return kind >= PartKind::Resistor && kind <= PartKind::Thermistor; }
bool is_diode_like(PartKind kind) { return kind >= PartKind::Diode && kind <= PartKind::Zener; }
bool is_switch_device(PartKind kind) { return kind >= PartKind::BjtNpn && kind <= PartKind::Igbt; }
bool is_controller(PartKind kind) { return kind == PartKind::Controller || kind == PartKind::IntegratedSwitch; }

bool is_told_at_work(PartKind kind) {
    return kind == PartKind::Lamp || kind == PartKind::Load || kind == PartKind::Thermistor || kind == PartKind::Relay;
}

bool is_safety_part(PartKind kind) {
    return kind == PartKind::Fuse || kind == PartKind::FusibleResistor || kind == PartKind::XCapacitor || kind == PartKind::YCapacitor ||
           kind == PartKind::Varistor;
}

} // namespace ohmo
