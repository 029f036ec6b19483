// SPDX-License-Identifier: GPL-3.0-or-later
// What a part without a value is taken for, against the values that the demo boards print: common practice, no source.
#include "support/demo.h"

#include "board/nominal.h"
#include "board/taken.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <cmath>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::optional<double> measure(const Part& part) {
    const auto n = likely_value(part);
    if (!n) return std::nullopt;
    if (part.kind == PartKind::Fuse) return n->amps;
    if (is_capacitor(part.kind)) return n->farads;
    if (part.kind == PartKind::Resistor || part.kind == PartKind::FusibleResistor) return n->ohms;
    return std::nullopt;
}

Board without(Board board, std::size_t index) {
    board.parts[index].value.clear();
    board.parts[index].ohms.reset();
    board.parts[index].amps.reset();
    take_values(board);
    return board;
}

} // namespace

TEST(TakenValues, PrintedOnesAreLeftAlone) {
    for (const auto& part : demo_board().parts)
        if (!part.value.empty() && measure(part)) EXPECT_FALSE(part.taken_for) << part.ref;
}

// One value after the other hidden, on all demo boards: most lie within a factor of ten of what was printed, fuses within three, and what
// is taken is never passed off as printed.
TEST(TakenValues, WithinTenOfWhatWasPrinted) {
    int all = 0, near = 0;
    for (const char* name :
         {"rb6-fresh", "gl1-adapter", "tl12-half-bridge", "bd2-self-oscillating", "cr8-buck", "sw3-flyback-integrated"}) {
        const Board board = demo(name).board;
        for (std::size_t i = 0; i < board.parts.size(); ++i) {
            const auto printed = measure(board.parts[i]);
            if (!printed || *printed <= 0) continue;
            const Board hidden = without(board, i);
            const auto taken = measure(hidden.parts[i]);
            if (!taken) continue;
            const auto told = nominal_value(hidden.parts[i]);
            ASSERT_TRUE(told);
            EXPECT_FALSE((is_capacitor(hidden.parts[i].kind) ? told->farads : told->ohms).has_value()) << hidden.parts[i].ref;
            const double off = std::fabs(std::log10(*taken / *printed));
            if (board.parts[i].kind == PartKind::Fuse) EXPECT_LT(off, std::log10(3.2)) << name << " " << board.parts[i].ref;
            ++all;
            near += off <= 1 ? 1 : 0;
        }
    }
    EXPECT_GT(all, 100);
    EXPECT_GT(near, 0.7 * all) << near << " of " << all;
}

// How well it is known is told with it: few printed values lie beyond two and a half of that, none beyond four.
TEST(TakenValues, KnownAsWellAsTheySay) {
    int told = 0, beyond = 0;
    for (const char* name : {"rb6-fresh", "gl1-adapter", "tl12-half-bridge", "bd2-self-oscillating", "cr8-buck", "sw3-flyback-integrated",
                             "fd1-linear", "fc1-inverter"}) {
        const Board board = demo(name).board;
        for (std::size_t i = 0; i < board.parts.size(); ++i) {
            const auto printed = measure(board.parts[i]);
            if (!printed || *printed <= 0) continue;
            const Board hidden = without(board, i);
            const auto taken = measure(hidden.parts[i]);
            const double spread = hidden.parts[i].taken_spread;
            EXPECT_EQ(board.parts[i].taken_spread, 0) << board.parts[i].ref;
            if (!taken || spread <= 0) continue;
            const double off = std::fabs(std::log(*taken / *printed)) / spread;
            EXPECT_LT(off, 4) << name << " " << board.parts[i].ref;
            ++told;
            beyond += off > 2.5 ? 1 : 0;
        }
    }
    EXPECT_GT(told, 80);
    EXPECT_LT(beyond, told / 12);
}

TEST(TakenValues, BelowTheSwitchAndInFrontOfTheGate) {
    const Board& board = demo_board();
    const auto taken = [&](const char* ref) {
        return measure(without(board, static_cast<std::size_t>(at(board, ref))).part(at(board, ref))).value_or(0);
    };
    EXPECT_LT(taken("R9"), 5);           // sense
    EXPECT_LT(taken("R8"), 200);         // gate
    EXPECT_GT(taken("R11"), 1000);       // pull-down
    EXPECT_GT(taken("C5"), taken("C8")); // bulk over controller supply
}

// What a transistor passes goes through it: a fraction of an ohm, not the kilohms of a resistor of which nothing is known.
TEST(TakenValues, ResistorsAtAnEmitterCarryItsCurrent) {
    Board b = ohmo::test::demo("fd1-linear").board;
    for (const char* ref : {"R2", "R3", "R8"}) b.parts[static_cast<std::size_t>(ohmo::test::at(b, ref))].value.clear();
    ohmo::take_values(b);
    EXPECT_LT(b.part(ohmo::test::at(b, "R2")).taken_for.value_or(1e9), 5); // emitter resistor of the pass transistor
    EXPECT_GT(b.part(ohmo::test::at(b, "R3")).taken_for.value_or(0), 20);  // from its base
    EXPECT_GT(b.part(ohmo::test::at(b, "R8")).taken_for.value_or(0), 20);  // of a lamp
}

// From the bulk rail to a base, and from a transistor's own collector to its base: what gets it going, hundreds of kilohms.
TEST(TakenValues, ResistorsThatStartASwitchAreNoDrive) {
    Board b = ohmo::test::demo("bd2-self-oscillating").board;
    for (const char* ref : {"R6", "R9"}) {
        auto& part = b.parts[static_cast<std::size_t>(ohmo::test::at(b, ref))];
        part.value.clear();
    }
    ohmo::take_values(b);
    for (const char* ref : {"R6", "R9"}) {
        const auto& part = b.part(ohmo::test::at(b, ref));
        ASSERT_TRUE(part.taken_for) << ref;
        EXPECT_EQ(*part.taken_for, ohmo::shipped_practice().taken_feed_ohms) << ref;
    }
}

// A rail that gets all it has through one resistor leaves it little to drop: some ohms at most. One beside it, to a lamp or a divider,
// feeds nothing; where a coil or a diode feeds the rail none does; nor is one that a Zener stands behind small.
TEST(TakenValues, AllOfARailGoesThroughAnOhmOrSo) {
    const auto taken = [](Board draft, const char* ref) {
        draft.rails = {{.net = "+5V", .ret = "0V", .volts = 5, .amps = 0.5}};
        const Board b = make_board(draft)->board;
        return measure(b.part(at(b, ref))).value_or(-1);
    };
    const std::vector<std::string> lines = {"J1 connector - 1=V5.in 1'=V5F 2=GN.in 2'=0V",
                                            "L1 inductor 1u 1=V5F 2=V5L",
                                            "R1 resistor - 1=V5L 2=+5V",
                                            "C1 tantalum 47u +=+5V -=0V",
                                            "R2 resistor - 1=+5V 2=LA",
                                            "D1 diode LED A=LA K=0V"};
    EXPECT_LT(taken(board(lines), "R1"), 5);
    EXPECT_GT(taken(board(lines), "R2"), 100);
    auto held = lines;
    held.push_back("Z1 zener 5V1 K=+5V A=0V");
    EXPECT_GT(taken(board(held), "R1"), 5);
    auto beside = lines;
    beside.push_back("D2 diode - A=V5L K=+5V");
    EXPECT_GT(taken(board(beside), "R1"), 100);
}

// Where boards of many kinds print a value, hiding it leaves one that is likely there: half of them within a factor of three or so, and
// hardly any farther off than three of the spreads that are told with it.
TEST(TakenValues, LikelyOnBoardsOfManyKinds) {
    int all = 0, far = 0;
    std::vector<double> off;
    for (const char* name :
         {"bobbin-dresser",   "card-feeder",    "dye-pump",      "fence-box",     "frame-drive",  "heddle-heater",  "loom-control",
          "loom-tension",     "pattern-reader", "point-heater",  "sack-sewing",   "signal-lamp",  "spindle-link",   "spool-counter",
          "strain-amplifier", "swing-arm",      "tension-gauge", "test-pedestal", "timer-box",    "tram-stop-sign", "tunnel-fan",
          "valve-control",    "warp-bench",     "winch-brake",   "winch-drive",   "winder-supply"}) {
        const Board printed = foreign(name).board;
        for (std::size_t i = 0; i < printed.parts.size(); ++i) {
            const auto was = measure(printed.parts[i]);
            if (!was || printed.parts[i].value.empty() || printed.parts[i].kind == PartKind::Fuse) continue;
            const Board hidden = without(printed, i);
            const Part& part = hidden.parts[i];
            ASSERT_TRUE(part.taken_for) << name << " " << part.ref;
            const double spread = part.taken_spread > 0 ? part.taken_spread : 2;
            ++all;
            off.push_back(std::fabs(std::log(*was / *part.taken_for)));
            far += off.back() > 3 * spread ? 1 : 0;
        }
    }
    std::nth_element(off.begin(), off.begin() + all / 2, off.end());
    EXPECT_LT(off[static_cast<std::size_t>(all / 2)], std::log(3.5));
    EXPECT_LT(far, all / 50);
}

// By where they stand: emitter resistors that meet before a shunt, a gate's resistor at a driver's pin of any name, a damper across a
// rectifier, a base fed from a reservoir of low volts, a bleeder of a rail of high volts; capacitors by their kind.
TEST(TakenValues, ByWhereTheyStand) {
    const auto taken = [](const char* name, const char* ref) {
        const Board printed = foreign(name).board;
        return *measure(without(printed, static_cast<std::size_t>(at(printed, ref))).part(at(printed, ref)));
    };
    EXPECT_LT(taken("test-pedestal", "R2"), 2);
    EXPECT_LT(taken("warp-bench", "R3"), 2);
    EXPECT_LT(taken("test-pedestal", "R5"), 2) << "all of the rail goes through it";
    EXPECT_LT(taken("spindle-link", "R2"), 200);
    EXPECT_LT(taken("point-heater", "R7"), 200);
    EXPECT_LT(taken("tension-gauge", "R1"), 1e4);
    EXPECT_GT(taken("winch-brake", "R9"), 5e4);
    EXPECT_LT(taken("strain-amplifier", "C5"), 1e-4) << "a tantalum";
    EXPECT_GT(taken("card-feeder", "C6"), 1e-7) << "a ceramic across a rail";
    EXPECT_GT(taken("fence-box", "C1"), 1e-4) << "where a battery comes in";
}

// What feeds a chip from a supply of low volts, or behind the diode of its winding, is some ohms; what starts it from the bulk rail is not.
TEST(TakenValues, AChipIsFedThroughSomeOhms) {
    for (const auto& [name, ref] : std::vector<std::pair<const char*, const char*>>{
             {"cr8-buck", "R2"}, {"fc1-inverter", "R5"}, {"rb6-fresh", "R12"}, {"sw3-flyback-integrated", "R6"}}) {
        const Board board = demo(name).board, hidden = without(board, static_cast<std::size_t>(at(board, ref)));
        const double off = std::fabs(std::log(*measure(hidden.part(at(board, ref))) / *measure(board.part(at(board, ref)))));
        EXPECT_LT(off, hidden.part(at(board, ref)).taken_spread) << name;
    }
    const Board inverter = demo("fc1-inverter").board, hidden = without(inverter, static_cast<std::size_t>(at(inverter, "R15")));
    EXPECT_GT(*measure(hidden.part(at(inverter, "R15"))), 1e4) << "from the high volts to the bridge's driver";
}
