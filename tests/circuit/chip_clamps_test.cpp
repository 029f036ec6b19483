// SPDX-License-Identifier: GPL-3.0-or-later
// Which pins of a chip are clamped to its supply: not those that ride on a switch node, nor those that an inductor lifts beyond it
// (common practice, no source).
#include "circuit/netlist.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <algorithm>

using namespace ohmo;
using namespace ohmo::test;

namespace {

bool clamped(const Board& board, const std::string& chip, const std::string& from, const std::string& to) {
    const auto net = expand_part(board, at(board, chip), {});
    const NetId a = *board.find_net(from), k = *board.find_net(to);
    return std::any_of(net.junctions.begin(), net.junctions.end(), [&](const Junction& j) { return j.anode == a && j.cathode == k; });
}

const Board& half_bridge() {
    static const Board b =
        board({"Q1 mosfet 600V D=BUS G=GH S=MID", "Q2 mosfet 600V D=MID G=GL S=0V", "R1 resistor 15R 1=HO 2=GH",
               "R2 resistor 15R 1=LO 2=GL", "C1 ceramic 470n 1=HB 2=MID", "U1 controller - VCC=VCC GND=0V HB=HB HO=HO HS=MID LO=LO CS=CS",
               "R3 resistor 1k 1=CS 2=0V", "C2 electrolytic 100u +=BUS -=0V", "C3 electrolytic 47u +=VCC -=0V"});
    return b;
}

} // namespace

TEST(ChipClamps, WhatRidesOnTheSwitchNodeIsClampedToItsOwnFeed) {
    const Board& b = half_bridge();
    const auto well = chip_well(b, b.part(at(b, "U1")));
    EXPECT_EQ(well.low, *b.find_net("MID"));
    EXPECT_EQ(well.high, *b.find_net("HB"));
    EXPECT_EQ(well.drives, std::vector<std::string_view>{"HO"});
    for (const auto* pin : {"MID", "HO", "HB"}) EXPECT_FALSE(clamped(b, "U1", pin, "VCC")) << pin;
    EXPECT_TRUE(clamped(b, "U1", "MID", "HB"));
    EXPECT_TRUE(clamped(b, "U1", "HO", "HB"));
    EXPECT_TRUE(clamped(b, "U1", "LO", "VCC"));
    EXPECT_TRUE(clamped(b, "U1", "CS", "VCC"));
}

TEST(ChipClamps, APinOnAnInductorIsNone) {
    const Board b = board({"L1 inductor 100u 1=IN 2=SW", "U1 controller - VCC=VCC GND=0V VS=SW FB=FB"});
    EXPECT_FALSE(clamped(b, "U1", "SW", "VCC"));
    EXPECT_TRUE(clamped(b, "U1", "FB", "VCC"));
}

// The diode of the upper switch inside a converter chip stays, whatever hangs on its node.
TEST(ChipClamps, TheSwitchInsideKeepsItsOwnDiode) {
    const Board b =
        board({"L1 inductor 100u 1=SW 2=OUT", "C1 ceramic 100n 1=BST 2=SW", "U1 integrated-switch - VIN=IN GND=0V SW=SW BST=BST FB=FB"});
    EXPECT_TRUE(clamped(b, "U1", "SW", "IN"));
    EXPECT_FALSE(clamped(b, "U1", "BST", "IN"));
}
