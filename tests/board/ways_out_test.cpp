// SPDX-License-Identifier: GPL-3.0-or-later
// What stands between a rail and its outlet: a rail that stands, and nothing at the plug.
#include "board/ways_out.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

using Refs = std::vector<std::string>;

// A flyback whose 24 V leave through a filter coil, a fuse and a plug, with a branch of its own for a fan.
Board feeder() {
    Board b = board({"D1 schottky 150V A=SEC K=VA", "C1 electrolytic 1000u +=VA -=0V", "L1 inductor 10u 1=VA 2=+24V",
                     "C2 electrolytic 470u +=+24V -=0V", "R1 resistor 2k2 1=+24V 2=0V", "R2 resistor 0R02 1=0V 2=0VX",
                     "F1 fuse T3A 1=+24V 2=+24F", "J1 connector - 1=+24F 1'=+24O 2=0VX 2'=0VO", "F2 fuse T1A 1=+24V 2=FAN",
                     "M1 load - 1=FAN 2=0V", "L2 inductor 100u 1=+24V 2=CLEAN", "C3 ceramic 1u 1=CLEAN 2=0V",
                     "R3 resistor 4k7 1=+24V 2=LED", "D2 diode LED A=LED K=0V"});
    b.rails = {{.net = "+24V", .ret = "0V", .volts = 24, .amps = 3}};
    return make_board(b)->board;
}

Refs found(const Board& b) {
    Refs out;
    const auto ways = ways_out(b);
    for (std::size_t p = 0; p < ways.size(); ++p)
        if (ways[p] != 0) out.push_back(b.parts[p].ref);
    return out;
}

} // namespace

// Not the coil and the capacitors before the rail, nor what feeds nothing that is plugged in.
TEST(WaysOut, WhatAllOfAnOutletsCurrentPasses) { EXPECT_EQ(found(feeder()), (Refs{"R2", "F1", "J1", "F2"})); }

// Two fuses side by side: neither alone leaves anybody without.
TEST(WaysOut, SideBySideNoneIsTheOnlyOne) {
    Board b = feeder();
    auto second = b.parts[static_cast<std::size_t>(at(b, "F1"))];
    second.ref = "F3";
    b.parts.push_back(second);
    EXPECT_EQ(found(b), (Refs{"R2", "J1", "F2"}));
}

// The complaint is about what is plugged in: the fuse before the plug answers for a unit that gives nothing, as the plug itself does.
TEST(WaysOut, TheirFaultIsFeltAsDead) {
    for (const char* demo : {"rb6-fresh", "gl1-adapter"}) {
        Job job = discharged(demo);
        Board& b = job.board;
        Part& plug = b.parts[static_cast<std::size_t>(at(b, "J2"))];
        const std::string rail = b.rails.front().net;
        for (auto& pin : plug.pins)
            if (pin.net == rail) pin.net = "FUSED";
        Part fuse;
        fuse.ref = "F9";
        fuse.kind = PartKind::Fuse;
        fuse.value = "T5A";
        fuse.stage = "rails";
        fuse.pins = {{"1", rail}, {"2", "FUSED"}};
        b.parts.push_back(fuse);
        b = make_board(b)->board;
        const auto before = analyse(job), dead = analyse(job.with(said("dead")));
        EXPECT_GT(bad(*dead, "F9"), 2 * bad(*before, "F9")) << demo;
        EXPECT_GT(bad(*dead, "F9"), 0.5 * bad(*dead, "J2")) << demo;
    }
}
