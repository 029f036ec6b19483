// SPDX-License-Identifier: GPL-3.0-or-later
// What a part without a value is taken for, against the values that the demo boards print: common practice, no source.
#include "support/demo.h"

#include "board/nominal.h"
#include "board/taken.h"

#include <gtest/gtest.h>

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
