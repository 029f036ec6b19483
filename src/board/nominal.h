// SPDX-License-Identifier: GPL-3.0-or-later
// What a part's printed value says in numbers.
#pragma once
#include "base/result.h"
#include "board/board.h"

#include <optional>
#include <string>

namespace ohmo {

struct Nominal {
    std::optional<double> ohms, farads, henry, volts, amps, watts;
    std::optional<double> start_volts, stop_volts; ///< controllers: under-voltage lock-out
    std::string characteristic;                    ///< fuses: "quick-acting", "time-lag"
    bool led = false;
};

/// Reads `value` in the light of the kind, then fills volts and amps from the part's own fields.
/// Kinds with a measurable value need one that can be read; others take words such as "600V 6A". Errors: UnreadableValue, NegativeValue.
Result<Nominal> nominal_value(const Part& part);

/// As nominal_value; a value that cannot be read counts as none. Errors: NegativeValue.
Result<Nominal> nominal_or_none(const Part& part);

/// As nominal_or_none; where no value is printed, what the part is taken for from its place.
Result<Nominal> likely_value(const Part& part);

/// The value for people: "68 µF 400 V", "0.33 Ω", "T2 A 250 V"; "value unknown" is left to the caller (empty).
std::string nominal_text(const Part& part);

} // namespace ohmo
