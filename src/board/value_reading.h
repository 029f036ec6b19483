// SPDX-License-Identifier: GPL-3.0-or-later
// What somebody reads off a part, as the value that the board keeps. One marking often has several readings.
#pragma once
#include "base/marking.h"
#include "board/part_kind.h"

#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

struct ValueReading {
    std::string value;                   ///< as the board writes it: "4k7", "100n", "T2A"
    std::optional<double> volts;         ///< where it stood with it
    std::optional<MarkingScheme> scheme; ///< nothing: the figure is the value
    bool operator==(const ValueReading&) const = default;
};

/// Readings of a marking on a part of this kind, likeliest first: "104" on a ceramic is 100n, on a resistor 100k or 104R; a plain figure is
/// taken as printed where it is a preferred number of two figures (common practice, no source). Kinds whose value is free text give that
/// text. Empty when it can be no value of the kind.
std::vector<ValueReading> value_readings(PartKind kind, std::string_view text);

/// The figure of a resistor, capacitor or winding (ohm, farad, henry) in what somebody wrote for its value: the first word that is one.
/// "10 µF 50 V", "47uF/50V", "NTC 10R", "2x10mH", "473J"; "47" on a can is microfarads, "104" on another capacitor a code, ".047"
/// microfarads.
std::optional<double> printed_figure(PartKind kind, std::string_view text);

/// The letter code of IEC 60062 for a value: 4700 is "4k7", 0.33 "0R33", 1e-7 "100n". `unit`: 'R' of resistors, which have no prefix below
/// one, 'F' of capacitors, which have none above micro up to a tenth of a farad, 'H' of chokes.
std::string letter_code(double value, char unit);

} // namespace ohmo
