// SPDX-License-Identifier: GPL-3.0-or-later
// What can be wrong with input, as values. Sentences are made in report/wording.
#pragma once
#include <string>
#include <vector>

namespace ohmo {

enum class ProblemKind {
    FileUnreadable,
    FileUnwritable,
    FileTooLarge,
    JsonBroken,
    SchemaMismatch,
    UnknownPartKind,
    DuplicateRef,
    UnknownPin,
    PinOnNoNet,
    MissingPin,
    NetWithOnePin,
    NoSuchNet,
    NoSuchPart,
    NoSuchEntry,
    SameNetTwice,
    UnreadableValue,
    UnreadableTime,
    NegativeValue,
    OutOfRangeValue,
    UnknownFigure, ///< of data/practice.json
    FixedFigure,   ///< a safety limit that an edited file would change
    NoteTooLong,
    UnknownWord,
    UnknownAction,
    UnknownFaultMode,
    MissingField,
    NotAConnector,
    RailsNet, ///< a rail would be left without parts at its net or return
    SolveFailed,
    Cancelled,
    Usage,
};

/// One thing wrong: where it is, what stands there, what was expected.
struct Problem {
    ProblemKind kind = ProblemKind::Usage;
    std::string place;    ///< JSON pointer, file path, part or net; empty when the text itself is the place
    std::string found;    ///< what stands there
    std::string expected; ///< what would be accepted, or further detail
    int line = 0;         ///< 1-based line in the file; 0 when there is none
    bool warning = false; ///< true: the job can still be used
};

using Problems = std::vector<Problem>;

/// True when at least one problem forbids going on.
inline bool has_errors(const Problems& problems) {
    for (const auto& p : problems)
        if (!p.warning) return true;
    return false;
}

} // namespace ohmo
