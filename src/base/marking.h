// SPDX-License-Identifier: GPL-3.0-or-later
// What a marking printed on a part can mean. One marking often has several readings; all are returned, likeliest first.
#pragma once
#include "base/result.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

enum class MarkingScheme { Iec60062, ThreeDigit, FourDigit, Eia96, ColourBands, Capacitor, Fuse };

struct MarkingMeaning {
    MarkingScheme scheme = MarkingScheme::Iec60062;
    std::string quantity;            ///< "resistance", "capacitance", "rated current"
    double value = 0;                ///< ohm, farad or ampere
    std::optional<double> tolerance; ///< fraction: 0.05 is 5 %
    std::optional<double> volts;
    std::string characteristic; ///< fuses: "quick-acting", "time-lag" …; temperature class of film capacitors is not decoded
};

/// Reads a marking: "4K7", "2R2", "472", "4992", "30C", "yellow violet red gold", "104", "107 16V", "2200 16 V", "T3.15A 250V".
/// Errors: UnreadableValue when no scheme fits.
Result<std::vector<MarkingMeaning>> decode_marking(std::string_view marking);

} // namespace ohmo
