// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/fault.h"

#include <algorithm>
#include <array>

namespace ohmo {
namespace {
constexpr std::array<std::string_view, 20> kNames = {
    "open",         "high",         "dry",  "short", "leaky",         "reversed",  "low",  "ds-short",     "ce-short",  "gate-leak",
    "supply-short", "output-short", "dead", "weak",  "shorted-turns", "breakdown", "high", "intermittent", "dry-joint", "carbon"};
} // namespace

bool silences(const Fault& f, int transformer, std::string_view winding) {
    return f.part == transformer && (f.mode == FaultMode::Open || f.mode == FaultMode::DryJoint) &&
           (f.place.empty() || f.place.front() == 'P' || f.place == winding);
}

bool opens_and_closes(FaultMode mode) { return mode == FaultMode::DryJoint || mode == FaultMode::Intermittent; }

std::string_view mode_name(FaultMode mode) { return kNames[static_cast<std::size_t>(mode)]; }

std::optional<FaultMode> mode_from_name(std::string_view name) {
    for (std::size_t i = 0; i < kNames.size(); ++i)
        if (kNames[i] == name) return static_cast<FaultMode>(i);
    return std::nullopt;
}

std::vector<FaultMode> modes_of(PartKind kind) {
    using M = FaultMode;
    using K = PartKind;
    std::vector<M> modes;
    switch (kind) {
    case K::Resistor:
    case K::FusibleResistor:
    case K::Thermistor:
    case K::Lamp:
    case K::Connector:
    case K::Switch:
    case K::Track:
    case K::Fuse:
        modes = {M::Open, M::High};
        break;
    case K::Varistor:
        modes = {M::Short, M::Leaky, M::Open};
        break;
    case K::Electrolytic:
    case K::Tantalum:
        modes = {M::Dry, M::Short, M::Leaky, M::Open, M::Reversed};
        break;
    case K::Ceramic:
        modes = {M::Short, M::Leaky, M::Open};
        break;
    case K::Film:
    case K::XCapacitor:
    case K::YCapacitor:
        modes = {M::Low, M::Short, M::Leaky, M::Open};
        break;
    case K::Inductor:
    case K::Choke:
        modes = {M::Open, M::High, M::ShortedTurns};
        break;
    case K::Transformer:
        modes = {M::ShortedTurns, M::Open, M::High, M::Breakdown};
        break;
    case K::Diode:
    case K::Schottky:
    case K::Zener:
    case K::Bridge:
        modes = {M::Short, M::Open, M::Leaky};
        break;
    case K::BjtNpn:
    case K::BjtPnp:
        modes = {M::CeShort, M::Short, M::Open, M::Leaky, M::GateLeak};
        break;
    case K::Mosfet:
        modes = {M::DsShort, M::Short, M::GateLeak, M::Open, M::Leaky};
        break;
    case K::Igbt:
        modes = {M::CeShort, M::Short, M::GateLeak, M::Open, M::Leaky};
        break;
    case K::Controller:
        modes = {M::Dead, M::OutputShort, M::SupplyShort, M::DsShort};
        break;
    case K::IntegratedSwitch:
        modes = {M::DsShort, M::Dead, M::SupplyShort, M::OutputShort, M::Short};
        break;
    case K::Regulator:
        modes = {M::Short, M::Low, M::RegulatorHigh, M::Open, M::Dead, M::OutputShort, M::SupplyShort};
        break;
    case K::ShuntReference:
        modes = {M::Short, M::Open, M::Weak};
        break;
    case K::Optocoupler:
        modes = {M::Weak, M::Open, M::Short};
        break;
    case K::Relay:
        modes = {M::Open, M::High, M::Short};
        break;
    case K::Load:
        modes = {M::Short, M::Leaky, M::Open};
        break;
    case K::Thyristor:
        modes = {M::Short, M::Open, M::Leaky, M::GateLeak};
        break;
    }
    modes.push_back(M::Intermittent);
    modes.push_back(M::DryJoint);
    return modes;
}

bool mode_applies(PartKind kind, FaultMode mode) {
    if (kind == PartKind::Regulator && mode == FaultMode::High) return true;
    const auto modes = modes_of(kind);
    return std::find(modes.begin(), modes.end(), mode) != modes.end();
}

} // namespace ohmo
