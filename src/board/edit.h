// SPDX-License-Identifier: GPL-3.0-or-later
// What tracing teaches about a board, one step each: parts, wires, rails. A step makes a new board or says what does not fit.
#pragma once
#include "board/board.h"

#include <map>
#include <optional>
#include <string>
#include <utility>
#include <variant>
#include <vector>

namespace ohmo {

/// A part that was found, or more about one that is there. Only what is given counts; a part that is not there yet needs its kind.
struct PartEdit {
    std::string ref;
    std::optional<PartKind> kind;
    std::optional<std::string> new_ref, value, stage, role;
    std::vector<std::pair<std::string, std::string>> pins; ///< role and net; pins that are not named get a net of their own, "R12.2"
    std::optional<double> volts, amps, watts, celsius;
    bool unrated = false; ///< its ratings are those that are named here and no others
    bool gone = false;    ///< it is not on this board and never was
    bool operator==(const PartEdit&) const = default;
};

/// A net by another name. Where that name stands already the two become one.
struct NetEdit {
    std::string net, name;
    bool operator==(const NetEdit&) const = default;
};

struct PinName {
    std::string ref, role;
    bool operator==(const PinName&) const = default;
};

/// A beep between two pins, or none: their nets become one, or the first pin leaves the net that they share.
struct JointEdit {
    PinName a, b;
    bool joined = true;
    bool operator==(const JointEdit&) const = default;
};

/// A rail, named by its net.
struct RailEdit {
    Rail rail;
    bool gone = false;
    bool operator==(const RailEdit&) const = default;
};

struct MainsEdit {
    std::optional<Mains> mains; ///< nothing: DC or battery
    bool operator==(const MainsEdit&) const = default;
};

using BoardEdit = std::variant<PartEdit, NetEdit, JointEdit, RailEdit, MainsEdit>;

/// Names that a step replaced, old to new.
struct Renames {
    std::map<std::string, std::string> refs, nets;
};

struct EditedBoard {
    Board board; ///< not numbered: make_board does that
    Renames renames;
};

/// The board after one step. Places in problems are the field of the step: "/kind", "/pins/D". Errors: NoSuchPart, NoSuchNet, UnknownPin,
/// DuplicateRef, MissingField (kind of a new part), UnreadableValue, NegativeValue, RailsNet (a rail would lose its last part).
Result<EditedBoard> apply_edit(Board board, const BoardEdit& edit);

/// "R12.1", "BR1.~1"; nothing where there is no dot between two names.
std::optional<PinName> pin_name(std::string_view text);

/// The name of the net that a pin has to itself: "R12.2".
std::string own_net(std::string_view ref, std::string_view role);

} // namespace ohmo
