// SPDX-License-Identifier: GPL-3.0-or-later
// What one reads under power on the way of the energy points at what stops it there, and clears what stands before it.
#include "support/demo.h"

#include <array>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// The part most suspected of those that are no wear.
std::string first_broken(const Analysis& a) {
    std::string best;
    double most = 0;
    for (const auto& part : a.replay.board.parts) {
        if (is_capacitor(part.kind) || bad(a, part.ref) <= most) continue;
        most = bad(a, part.ref);
        best = part.ref;
    }
    return best;
}

} // namespace

TEST(UnderPower, WhereTheLineEnds) {
    const Job dead = foreign("winder-supply").with(said("dead"));
    const auto fuse = analyse(dead.with(live("volts-ac", "L", "N", 229)).with(live("volts-ac", "L1", "N", 0)));
    EXPECT_EQ(first_broken(*fuse), "F1");
    EXPECT_GT(bad(*fuse, "F1"), 0.8);
    EXPECT_EQ(fuse->assessment.of(at(dead.board, "F1")).proof, Proof::Story) << "nobody read it by itself";
    const auto limiter = analyse(dead.with(live("volts-ac", "L2", "N1", 231)).with(live("volts-ac", "L3", "N1", 0.4)));
    EXPECT_EQ(first_broken(*limiter), "RT1");
    EXPECT_GT(bad(*limiter, "RT1"), 0.8);
    EXPECT_LT(bad(*limiter, "F1"), 0.05);
}

TEST(UnderPower, WhatAWindingGivesAndItsReservoirHolds) {
    const Job dead = foreign("winder-supply").with(said("dead"));
    const auto nothing = analyse(dead.with(live("volts-ac", "L3", "N1", 229)).with(live("volts-ac", "A1", "A2", 0.1)));
    EXPECT_EQ(first_broken(*nothing), "T1");
    EXPECT_GT(bad(*nothing, "T1"), 0.5);
    const auto fuse = analyse(dead.with(live("volts-dc", "RAW", "0V", 63)).with(live("volts-dc", "+65V", "0V", 0)));
    EXPECT_GT(bad(*fuse, "F2"), 2 * bad(*analyse(dead), "F2")); // or what shorts the rail behind it
    EXPECT_GT(bad(*fuse, "Q1"), 2 * bad(*analyse(dead), "Q1"));
    for (const char* ref : {"F1", "RT1", "T1", "BR1"}) EXPECT_LT(bad(*fuse, ref), 0.03) << ref;
}

TEST(UnderPower, WhatAChipIsFedWith) {
    const Job dead = discharged("rb6-fresh").with(act(Do::Symptom, "", "no-start")).with(live("volts-dc", "HV", "PGND", 322));
    const Board& b = demo_board();
    const auto starts = [&](const Analysis& a) {
        double all = 0;
        for (const auto& part : b.parts)
            if (part.kind == PartKind::Resistor && part.touches(*b.find_net("VCC"))) all += bad(a, part.ref);
        return all;
    };
    const auto before = analyse(dead), starved = analyse(dead.with(live("volts-dc", "VCC", "PGND", 0.1))),
               waits = analyse(dead.with(live("volts-dc", "VCC", "PGND", 12.6)));
    EXPECT_GT(starts(*starved), 3 * starts(*before));
    EXPECT_LT(starts(*waits), 0.5 * starts(*before));
    EXPECT_LT(starved->assessment.supply_good, 0.02);
}

TEST(UnderPower, ABoardThatIsFedWithLittle) {
    Job dead = foreign("pattern-reader").with(said("dead"));
    dead.board.parts.front().stage = "mains-in";
    const auto open = analyse(dead.with(live("volts-dc", "V5F", "0V", 5.1, "elv")).with(live("volts-dc", "V5L", "0V", 0, "elv")));
    EXPECT_EQ(first_broken(*open), "FB1");
}

// Where no sum tells what stands there, it says nothing.
TEST(UnderPower, NothingFromAPlaceThatNoSumKnows) {
    const Job dead = discharged("rb6-fresh").with(act(Do::Symptom, "", "no-start"));
    const auto before = analyse(dead), with = analyse(dead.with(live("volts-dc", "DRV", "PGND", 3.3)));
    for (const auto& part : demo_board().parts) EXPECT_NEAR(bad(*before, part.ref), bad(*with, part.ref), 1e-9) << part.ref;
}

// More readings than are told apart: those that one fault brings about are one complaint, and none is dropped.
TEST(UnderPower, ManyReadingsOfOneFault) {
    Job job = foreign("winder-supply").with(said("dead"));
    for (const auto& [what, red, black] : std::vector<std::array<const char*, 3>>{
             {"volts-dc", "+65V", "0V"}, {"volts-dc", "+12V", "0V"}, {"volts-dc", "RAW", "0V"}, {"volts-ac", "A1", "A2"}})
        job = job.with(live(what, red, black, 0.1));
    const auto before = analyse(job), after = analyse(job.with(live("volts-ac", "L2", "N1", 230)).with(live("volts-ac", "L3", "N1", 0)));
    EXPECT_LT(bad(*before, "RT1"), 0.5);
    EXPECT_EQ(first_broken(*after), "RT1");
    EXPECT_GT(bad(*after, "RT1"), 0.8);
}

// The alternating range on a reservoir of the line is the poor man's ripple; a simple meter shows the direct volts there.
TEST(UnderPower, AlternatingVoltsOfADirectRail) {
    const Job hum = foreign("winder-supply").with(act(Do::Symptom, "", "hum"));
    const auto worn = [](const Analysis& a) { return bad(a, "C1") + bad(a, "C2"); };
    const auto before = analyse(hum), rough = analyse(hum.with(live("volts-ac", "+65V", "0V", 14))),
               calm = analyse(hum.with(live("volts-ac", "+65V", "0V", 0.9))),
               direct = analyse(hum.with(live("volts-ac", "+65V", "0V", 140)));
    EXPECT_GT(worn(*rough), 1.1 * worn(*calm));
    EXPECT_LT(worn(*calm), worn(*before));
    EXPECT_NEAR(worn(*direct), worn(*before), 1e-9);
}

// A clamp that is through leaves nothing there to be read, though it is what an output that climbs takes along.
TEST(UnderPower, WhatWasReadGotThere) {
    const Job high = discharged("sw3-flyback-integrated").with(said("high-output"));
    const auto told = analyse(high), read = analyse(high.with(live("volts-dc", "+12V", "0V", 16.8)));
    EXPECT_LT(bad(*told, "D4"), 0.4);
    EXPECT_LT(bad(*read, "D4"), 0.05);
    EXPECT_GT(bad(*read, "OK1") + bad(*read, "U2") + bad(*read, "R9") + bad(*read, "R11"), 0.6);
    const Job low = discharged("fd1-linear").with(said("low-output"));
    const auto sags = analyse(low.with(live("volts-dc", low.board.rails[0].net, low.board.rails[0].ret, 0.7 * low.board.rails[0].volts)));
    EXPECT_LT(bad(*sags, "F1"), 0.02) << "whatever is wrong";
}

// At an outlet's contact and ahead of a coil stands what the rail has; a contact that is open takes it away there alone.
TEST(UnderPower, AtContactsAndCoils) {
    const Job dead = foreign("timer-box").with(said("dead"));
    for (const char* net : {"HV", "H1"}) {
        const auto a = analyse(dead.with(live("volts-dc", net, "N", 322)));
        EXPECT_LT(bad(*a, "R1"), 0.03) << net << ": the line gets in";
    }
    const Job fed = dead.with(live("volts-dc", "+3V3", "0V", 3.31));
    const auto outlet = analyse(fed.with(live("volts-dc", "+3V3.o", "0V.o", 0.01)));
    EXPECT_GT(bad(*outlet, "J2"), 0.5);
    EXPECT_LT(bad(*outlet, "U2"), 0.02);
}

// What another rail proves to run does not stop this one.
TEST(UnderPower, OneRailOfTwo) {
    const Job dead = foreign("timer-box").with(said("dead")).with(live("volts-dc", "+12V", "0V", 12.1));
    const auto a = analyse(dead.with(live("volts-dc", "+3V3", "0V", 0.01)));
    EXPECT_EQ(first_broken(*a), "U2");
    EXPECT_GT(bad(*a, "U2"), 2 * bad(*analyse(dead), "U2"));
    EXPECT_GT(bad(*a, "U2"), 0.3);
    EXPECT_LT(bad(*a, "U1"), 0.05);
}

// Anything up to the start volts comes of a leak there, nothing at all of a resistor that is open.
TEST(UnderPower, NothingAtASupplyPin) {
    const Job dead = foreign("swing-arm").with(said("dead")).with(live("volts-dc", "HV", "PG", 325));
    const auto nothing = analyse(dead.with(live("volts-dc", "VCC", "PG", 0.02))),
               some = analyse(dead.with(live("volts-dc", "VCC", "PG", 5)));
    EXPECT_GT(bad(*nothing, "R7"), 0.3);
    EXPECT_LT(bad(*some, "R7"), 0.1);
}
