// SPDX-License-Identifier: GPL-3.0-or-later
// The kinds of part of the job format, with their pin roles.
#pragma once
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

enum class PartKind {
    Resistor,
    FusibleResistor,
    Thermistor,
    Varistor,
    Fuse,
    Electrolytic,
    Tantalum,
    Ceramic,
    Film,
    XCapacitor,
    YCapacitor,
    Inductor,
    Choke,
    Transformer,
    Diode,
    Schottky,
    Zener,
    Bridge,
    BjtNpn,
    BjtPnp,
    Mosfet,
    Igbt,
    Controller,
    IntegratedSwitch,
    Regulator,
    ShuntReference,
    Optocoupler,
    Connector,
    Switch,
    Relay,
    Lamp,
    Load,
    Track,
    Thyristor,
};

/// How the pins of a kind are named.
enum class PinRule {
    Fixed,   ///< exactly the roles listed
    Pairs,   ///< windings or contacts: any even number of roles, checked by part_kind.cpp
    Function ///< free function names, the listed ones required
};

struct KindInfo {
    PartKind kind;
    std::string_view name;
    PinRule rule;
    std::vector<std::string_view> roles; ///< required roles
    std::string_view red, black;         ///< default places of the leads
};

const KindInfo& kind_info(PartKind kind);
const std::vector<KindInfo>& all_kinds();
std::optional<PartKind> kind_from_name(std::string_view name);

/// Whether `role` may be a pin of this kind.
bool allows_role(PartKind kind, std::string_view role);

bool is_capacitor(PartKind kind);
bool is_wet_or_solid_electrolytic(PartKind kind); ///< polarised capacitors
bool loses_capacitance(PartKind kind);            ///< with age: electrolytics dry out, films heal themselves smaller
bool is_resistor_like(PartKind kind);             ///< resistor, fusible resistor, thermistor
bool is_diode_like(PartKind kind);                ///< diode, Schottky, Zener
bool is_switch_device(PartKind kind);             ///< transistor kinds that switch power
bool is_controller(PartKind kind);                ///< controller or integrated switch
bool is_told_at_work(PartKind kind);              ///< lamp, load, thermistor, relay: what is told is of their work, no ohms off the part
bool is_safety_part(PartKind kind);               ///< to be replaced like for like: fuse, fusible resistor, X and Y capacitors, varistor

} // namespace ohmo
