// SPDX-License-Identifier: GPL-3.0-or-later
// The steps of the ladder, as they are named in job files.
#pragma once
#include <optional>
#include <string>
#include <string_view>

namespace ohmo {

enum class StepKind {
    ColdProof,
    Controller,   ///< fed alone, extra-low voltage
    RailsBackFed, ///< extra-low voltage
    LowSupply,    ///< a board without mains, with a current limit
    Lamp,
    VariableTransformer, ///< setting: volts
    FullNoLoad,
    Load, ///< setting: per cent of the rated load
    Soak,
    Function,
};

struct StepId {
    StepKind kind = StepKind::ColdProof;
    int setting = 0;
    bool operator==(const StepId&) const = default;
};

/// "lamp", "transformer-100", "load-25".
std::string step_text(const StepId& step);
/// Also the names that older files have. Empty for what is no step.
std::optional<StepId> step_named(std::string_view text);

/// Mains is connected in it.
bool on_mains(StepKind kind);

} // namespace ohmo
