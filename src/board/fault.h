// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "board/part_kind.h"

#include <compare>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

enum class FaultMode {
    Open,
    High,
    Dry,
    Short,
    Leaky,
    Reversed,
    Low,
    DsShort,
    CeShort,
    GateLeak,
    SupplyShort,
    OutputShort,
    Dead,
    Weak,
    ShortedTurns,
    Breakdown,
    RegulatorHigh,
    Intermittent,
    DryJoint,
    Carbon,
};

/// One fault of one part. `place` is a bridge leg ("~1+") or a pin (dry joint); empty otherwise.
struct Fault {
    int part = -1; ///< index into Board::parts
    FaultMode mode = FaultMode::Open;
    std::string place;

    auto operator<=>(const Fault&) const = default; // NOLINT(modernize-use-nullptr): compares with 0 behind the scenes
};

bool opens_and_closes(FaultMode mode); ///< by warmth or touch: mostly closed, so that no reading shows it
/// The transformer gives nothing at this winding ("S1-S2"; "" for none at all): it is open, or the primary is.
bool silences(const Fault& fault, int transformer, std::string_view winding);
std::string_view mode_name(FaultMode mode);
std::optional<FaultMode> mode_from_name(std::string_view name);

/// Modes that the job format allows for this kind.
bool mode_applies(PartKind kind, FaultMode mode);
std::vector<FaultMode> modes_of(PartKind kind);

} // namespace ohmo
