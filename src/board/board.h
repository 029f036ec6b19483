// SPDX-License-Identifier: GPL-3.0-or-later
// The board: parts, nets, rails. An immutable value once made.
#pragma once
#include "base/result.h"
#include "board/fault.h"
#include "board/part_kind.h"
#include "board/practice.h"

#include <algorithm>
#include <cmath>
#include <map>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

namespace ohmo {

using NetId = int;

struct Pin {
    std::string role;
    std::string net;
    NetId id = -1; ///< set by make_board
    bool operator==(const Pin&) const = default;
};

/// Of a part's middle on the board, millimetres from one corner.
struct BoardPosition {
    double x = 0, y = 0;
    bool operator==(const BoardPosition&) const = default;
};

/// How a part came to stand on the board.
enum class HowKnown {
    File,       ///< with the board, as somebody wrote it or as a blueprint assumes it
    Recognised, ///< assumed, and seen as assumed; ref, value and ratings as printed
    Corrected,  ///< there, but of another kind or wired otherwise
    Found,      ///< added by tracing
};

struct Part {
    std::string ref;
    PartKind kind = PartKind::Resistor;
    std::string value; ///< as printed; empty when unknown
    std::vector<Pin> pins;
    std::string stage;
    std::string role; ///< what it does, in words: "main (bulk) capacitor"
    std::optional<double> volts, amps, watts, celsius, ohms, henry, esr, age_years;
    std::map<std::string, double> turns, winding_ohms; ///< by winding, "P1-P2"
    std::string batch;
    std::optional<BoardPosition> place;
    bool assumed = false;
    HowKnown known = HowKnown::File;
    std::optional<double> taken_for; ///< ohm, farad, henry or ampere of a part without a value, from where it stands (board/taken.h)
    double taken_spread = 0;         ///< ln, how well `taken_for` is known; 0 where nothing is taken or its place tells nothing of it

    /// Net of a pin role, -1 when the part has no such pin.
    NetId net(std::string_view pin_role) const;
    bool touches(NetId wanted) const;     ///< has a pin on this net
    std::string role_on(NetId net) const; ///< of its first pin on this net; empty where it has none
    /// Pairs of pins of windings and contacts in order: choke 1-2 and 3-4, transformer P1-P2, A1-A2…, connector 1-1'…
    std::vector<std::pair<const Pin*, const Pin*>> pairs() const;
    bool operator==(const Part&) const = default;
};

struct Rail {
    std::string net, ret;
    double volts = 0, tolerance = 0.05, amps = 0;
    NetId net_id = -1, return_id = -1;
    double watts() const { return std::fabs(volts) * amps; } ///< rated
    /// Volts between these shares of its own, the lower first: -15 V within a tenth is -16.5 to -13.5.
    std::pair<double, double> between(double least, double most) const { return std::minmax({volts * least, volts * most}); }
    bool operator==(const Rail&) const = default;
};

struct Mains {
    double volts = 230, hertz = 50;
    bool operator==(const Mains&) const = default;
};

struct Board {
    std::string name, blueprint;
    std::optional<Mains> mains;
    std::vector<Rail> rails;
    std::vector<Part> parts;
    std::vector<std::string> nets;                   ///< by NetId, sorted by name
    std::shared_ptr<const Practice> edited_practice; ///< figures it is judged by where they are not the shipped ones

    std::optional<int> find_part(std::string_view ref) const; ///< exact, else ignoring case
    std::optional<NetId> find_net(std::string_view wanted) const;
    const std::string& net_name(NetId id) const { return nets[static_cast<std::size_t>(id)]; }
    const Part& part(int index) const { return parts[static_cast<std::size_t>(index)]; }
    const Practice& practice() const { return edited_practice ? *edited_practice : shipped_practice(); }
    bool operator==(const Board&) const = default; ///< the same everything; edited figures by identity
};

struct MadeBoard {
    Board board;
    Problems warnings;
};

/// What the pins of a chip are for, by the names that boards use; empty where it has none.
struct ChipPins {
    std::string_view ground;    ///< what its other pins are read against
    std::string_view supply;    ///< what feeds it
    std::string_view high, low; ///< ends of the switch inside: D and S, VIN and SW, SW and GND
    bool own_supply = false;    ///< not fed straight from the input: it has capacitors of its own that could dry out
};
ChipPins chip_pins(const Part& part);
/// Pins by which a chip drives gates, bases or what hangs on it, as they stand in the part; where it has none, its switch node. Views of
/// the part's own pins.
std::vector<std::string_view> chip_outputs(const Part& part);
/// What rides on the switch node in a driver of two switches: no clamp of it goes to the chip's supply.
struct ChipWell {
    NetId low = -1, high = -1;            ///< its return and what feeds it; -1: the chip has no such half
    std::vector<std::string_view> drives; ///< outputs to a gate whose source is its return
    bool holds(const Pin& pin) const;
};
ChipWell chip_well(const Board& board, const Part& part);
/// What feeds the upper half of such a driver; -1 where the chip has no such pin.
NetId chip_boost(const Part& part);
/// Those of them that fail each for itself: none where there is one only, which needs no name.
std::vector<std::string_view> places_of_output_short(const Part& part);

/// Numbers the nets and validates. Places are JSON pointers under /board. Errors: DuplicateRef, UnknownPin, MissingPin, PinOnNoNet,
/// NoSuchNet (rail), NegativeValue, UnreadableValue; warnings: NetWithOnePin, UnreadableValue of values that can be left out.
Result<MadeBoard> make_board(Board draft);

/// "Q1:ds-short", "BR1:short@~1+". Also accepts Q1:short for a MOSFET's drain-source short written loosely.
/// Errors: NoSuchPart, UnknownFaultMode.
Result<Fault> parse_fault(const Board& board, std::string_view text);
std::string fault_text(const Board& board, const Fault& fault);

/// Column order of the map.
const std::vector<std::string>& stage_order();

} // namespace ohmo
