// SPDX-License-Identifier: GPL-3.0-or-later
// Figures that are a judgement of practice, not of numerics: data/practice.json, built into the program and editable in its file. Each has
// a name, a value, a unit, often a spread, and says where it comes from and where it is used.
#pragma once
#include "base/disk.h"
#include "base/result.h"

#include <array>
#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {

/// The values, one field a figure: "short-ohms" is `short_ohms`, its spread `short_ohms_spread`. Units are those of the file.
struct Practice {
#define OHMO_FIGURE(field, name) double field = 0;
#define OHMO_SPREAD(field, name) double field = 0;
#include "practice_fields.inc"
#undef OHMO_FIGURE
#undef OHMO_SPREAD

    static constexpr std::size_t kRunningStates = 7;
    /// Chance of a symptom word by what the unit does, in the order of `Running`, and that it is said of one that does not run as it
    /// should in any other way.
    struct Told {
        std::array<double, kRunningStates> by_state{};
        double loosely = 0;
        bool operator==(const Told&) const = default;
    };
    std::map<std::string, Told, std::less<>> symptoms;

    /// How far a fault brings a word about, in the order of `Nature`; words without a row are brought about by any.
    static constexpr std::size_t kNatures = 6;
    std::map<std::string, std::array<double, kNatures>, std::less<>> natures;

    struct Temperature {
        double cooled_recovers = 0, cooled_worse = 0, heated_recovers = 0, heated_worse = 0;
        bool operator==(const Temperature&) const = default;
    };
    Temperature sound, leaks, dry, cracked;

    /// Chances of "check answer" by what is wrong; see readings/outside.h.
    static constexpr std::size_t kOutsideColumns = 6;
    std::map<std::string, std::array<double, kOutsideColumns>, std::less<>> outside;

    bool operator==(const Practice&) const = default;
};

/// One entry of the file.
struct PracticeFigure {
    std::string group, name, unit, what, source;
    double value = 0;
    std::optional<double> spread;
    bool fixed = false;            ///< a safety limit: an edited file may not change it
    std::vector<std::string> used; ///< source files, below src/
};

/// A row of one of the tables.
struct PracticeRow {
    std::string table, name;
    std::vector<double> values;
};

struct PracticeFile {
    std::vector<PracticeFigure> figures;
    std::vector<PracticeRow> rows;
    std::map<std::string, std::string> about; ///< what each group and table holds
};

/// Errors: JsonBroken, SchemaMismatch, UnknownFigure, OutOfRangeValue, FixedFigure, NegativeValue; the place is `place` and the JSON
/// pointer.
Result<PracticeFile> parse_practice_file(const std::string& text, const std::string& place);

/// The shipped values with those of `file` over them. Errors as above, for what the program does not know or will not take.
Result<Practice> practice_of(const PracticeFile& file, const std::string& place);

/// Both. Errors: also FileUnreadable.
Result<Practice> load_practice(const Disk& disk, const Path& path);

/// What is built into the program.
const PracticeFile& shipped_practice_file();
const Practice& shipped_practice();

} // namespace ohmo
