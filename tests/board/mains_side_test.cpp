// SPDX-License-Identifier: GPL-3.0-or-later
// Which side of the barrier: what is joined to the mains by conductors is on it, whatever its own volts.
#include "board/mains_side.h"
#include "board/roles.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Board dropper(const std::string& returned_to) {
    Board b = board({"F1 fuse T1A 1=L 2=L1", "C1 x-capacitor 470n 1=L1 2=X", "D1 diode 1000V A=X K=24V", "D2 diode 1000V A=0V K=X",
                     "R1 resistor 10 1=N 2=" + returned_to, "C2 electrolytic 470u +=24V -=0V", "O1 optocoupler - A=24V K=0V C=OUT E=GND",
                     "K1 relay - 1=24V 2=0V C=COM NO=NO", "C3 y-capacitor 2n2 1=0V 2=GND"});
    b.mains = Mains{};
    b.parts[0].stage = "mains-in";
    b.rails = {{"24V", "0V", 24, 0.1, 0.05, *b.find_net("24V"), *b.find_net("0V")}};
    return b;
}

} // namespace

TEST(MainsSide, ADroppedRailIsOnTheMains) {
    const Board b = dropper("0V");
    EXPECT_TRUE(rails_on_mains(b));
    EXPECT_TRUE(find_roles(b).rails_on_mains);
    const auto on = nets_on_mains(b);
    const auto at = [&](const char* net) { return on[static_cast<std::size_t>(*b.find_net(net))] != 0; };
    for (const char* net : {"L", "X", "24V", "0V"}) EXPECT_TRUE(at(net)) << net;
    for (const char* net : {"OUT", "GND", "COM", "NO"}) EXPECT_FALSE(at(net)) << net;
}

TEST(MainsSide, TransformersAndCouplersPartTheSides) {
    for (const char* name :
         {"rb6-fresh", "tl12-half-bridge", "fd1-linear", "gl1-adapter", "bd2-self-oscillating", "sw3-flyback-integrated"})
        EXPECT_FALSE(rails_on_mains(demo(name).board)) << name;
    const auto& b = demo_board();
    const auto on = nets_on_mains(b);
    EXPECT_TRUE(on[static_cast<std::size_t>(*b.find_net("DRAIN"))]);
    EXPECT_FALSE(on[static_cast<std::size_t>(*b.find_net("+24V"))]);
}

TEST(MainsSide, NothingWithoutMains) {
    Board b = dropper("0V");
    b.mains.reset();
    EXPECT_FALSE(rails_on_mains(b));
}

// Who draws a linear supply calls its rectifier and reservoir by the names of a converter's primary; behind the transformer they are of the
// outputs.
TEST(MainsSide, WhatStandsBehindALineTransformerIsOfTheOutputs) {
    Board draft;
    for (const char* line : {"J1 connector - 1=L.in 1'=L 2=N.in 2'=N", "F1 fuse T1A 1=L 2=LF", "T1 transformer - P1=LF P2=N S1=A S2=B",
                             "BR1 bridge - ~1=A ~2=B +=V -=0V", "C1 electrolytic 4700u +=V -=0V"})
        draft.parts.push_back(part(line));
    draft.mains = Mains{};
    draft.parts[0].stage = draft.parts[1].stage = draft.parts[2].stage = "mains-in";
    draft.parts[3].stage = "rectify";
    draft.parts[4].stage = "bulk";
    draft.rails.push_back({.net = "V", .ret = "0V", .volts = 24, .amps = 1});
    const auto made = make_board(draft);
    ASSERT_TRUE(made);
    EXPECT_EQ(made->board.part(3).stage, "rectify-out");
    EXPECT_EQ(made->board.part(4).stage, "smooth");
    const auto roles = find_roles(made->board);
    EXPECT_EQ(roles.line_transformer, 2);
    EXPECT_TRUE(roles.bulk.empty());
    EXPECT_FALSE(rails_on_mains(made->board));
    // Before the transformer they stay what they are.
    for (const auto& p : demo_board().parts)
        if (p.ref == "BR1") EXPECT_EQ(p.stage, "rectify");
}
