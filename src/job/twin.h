// SPDX-License-Identifier: GPL-3.0-or-later
// A good unit of the same kind beside this one: what both read at the same place, and what only one of them has been asked.
#pragma once
#include "job/replay.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

inline constexpr std::string_view kTwin = "twin"; ///< note: `text` is the file of the good unit's job, relative to this one's

enum class Like {
    Higher,    ///< than two good units differ by
    Lower,     ///< the same, below
    Same,      ///< as the good unit
    OnlyThere, ///< not read here yet
    OnlyHere,  ///< not read on the good unit
};

/// Where and in which state: two readings are of one place when all of this is the same.
struct TwinPlace {
    Quantity what = Quantity::Ohms;
    std::string red, black;       ///< nets, or pins of a part out of circuit; in order of name where the leads may be turned
    std::string alone;            ///< the part that was read out of circuit, empty in circuit
    std::vector<std::string> out; ///< what else was lifted or pulled
    auto operator<=>(const TwinPlace&) const = default;
};

struct TwinReading {
    int entry = -1; ///< in its own journal
    double value = 0;
    bool over = false;
};

struct TwinRow {
    TwinPlace place;
    std::optional<TwinReading> here, there; ///< the last of each
    Like like = Like::Same;
    double off = 0; ///< of both read: how far apart, in what two good units may differ by
};

/// Odd ones first, the oddest on top; then what is to be read here; then the rest. Parts and nets are matched by name: boards of one kind
/// are traced with the same ones.
std::vector<TwinRow> compare_with_twin(const Replay& here, const Replay& there);

} // namespace ohmo
