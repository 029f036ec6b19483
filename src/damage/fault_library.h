// SPDX-License-Identifier: GPL-3.0-or-later
// How parts fail: relative frequencies, influences and looks, from data/fault-library.json.
#pragma once
#include "base/disk.h"
#include "base/result.h"
#include "board/board.h"

#include <map>
#include <set>
#include <string>
#include <vector>

namespace ohmo {

struct ModeEntry {
    double share = 0;                    ///< of the kind's failures, sums to 1
    std::map<std::string, double> looks; ///< chance of each telling look; the rest looks fine
    double looks_fine() const;
};

struct KindEntry {
    double rate = 0;                       ///< relative frequency as a first failure
    double age_per_year = 0;               ///< rate grows by exp(age_per_year * (age - 5))
    std::map<std::string, double> history; ///< factor by history word
    std::map<FaultMode, ModeEntry> modes;
};

struct FaultLibrary {
    double good_supply = 0.04;  ///< prior that nothing on the board is wrong
    double second_fault = 0.12; ///< expected number of further independent faults
    double reserve = 0.01;      ///< prior of "something not on the map"
    std::map<PartKind, KindEntry> kinds;

    const ModeEntry* find(PartKind kind, FaultMode mode) const;
    /// Weight of a root fault of this part and mode, before normalisation over the board.
    double weight(const Part& part, FaultMode mode, const std::set<std::string>& history) const;
};

/// Errors: FileUnreadable, JsonBroken, UnknownPartKind, UnknownFaultMode, OutOfRangeValue (shares, chances), each with its place in the
/// file.
Result<FaultLibrary> load_fault_library(const Disk& disk, const Path& path);
Result<FaultLibrary> parse_fault_library(const std::string& text, const std::string& place);

} // namespace ohmo
