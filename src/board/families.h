// SPDX-License-Identifier: GPL-3.0-or-later
// Electrical parameters of a part from its family: data/device-families.json, built into the program.
#pragma once
#include "base/result.h"
#include "board/board.h"
#include "board/nominal.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

struct JunctionModel {
    double is = 5e-9, n = 1.9; ///< saturation current (A), emission coefficient
    double rs = 0;             ///< series resistance, ohm
    double bv = 0;             ///< breakdown volts, 0: none
    double breakdown_ideality = 1;
};

struct BipolarModel {
    double is = 1e-14, forward_gain = 100, reverse_gain = 3, emitter_breakdown = 8;
};

struct ChannelModel {
    double threshold = 3.6, gain = 1; ///< V; A/V^2: i = gain/2 (v - threshold)^2
    double gate_farads = 1e-9;
};

/// The parameters of one part, scaled by its ratings.
struct DeviceModel {
    std::string family; ///< empty when none fits: then the defaults of the structs above hold
    JunctionModel junction;
    BipolarModel bipolar;
    ChannelModel channel;
};

struct DeviceFamily {
    std::string name;
    std::vector<PartKind> kinds;
    std::vector<std::string> words; ///< one of them must be in the value text; empty: any
    std::optional<double> least_volts, most_volts, most_amps, least_amps;
    bool has_junction = false, has_bipolar = false, has_channel = false;
    std::optional<double> is_per_amp, series_volts, breakdown_share, breakdown_exponent, gain_per_amp;
    DeviceModel base;
};

using DeviceFamilies = std::vector<DeviceFamily>;

/// Errors: JsonBroken, SchemaMismatch, UnknownPartKind, OutOfRangeValue; the place is `place` and the JSON pointer.
Result<DeviceFamilies> parse_device_families(const std::string& text, const std::string& place);

/// The families built into the program.
const DeviceFamilies& device_families();

/// A part without ratings takes the family's typical ones: 1 A, 3 A for Schottky rectifiers.
DeviceModel device_model(const Part& part, const Nominal& nominal, const DeviceFamilies& families = device_families());

} // namespace ohmo
