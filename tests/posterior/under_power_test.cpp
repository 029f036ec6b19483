// SPDX-License-Identifier: GPL-3.0-or-later
// What one reads under power on the way of the energy points at what stops it there, and clears what stands before it.
#include "support/demo.h"

#include <array>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Entry volts(const std::string& what, const std::string& red, const std::string& black, double value, const char* powered = "mains") {
    Entry e = read(what, red, black, value);
    e.powered = powered;
    return e;
}

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
    const Job dead = foreign("winder-supply").with(act(Do::Symptom, "", "dead"));
    const auto fuse = analyse(dead.with(volts("volts-ac", "L", "N", 229)).with(volts("volts-ac", "L1", "N", 0)));
    EXPECT_EQ(first_broken(*fuse), "F1");
    EXPECT_GT(bad(*fuse, "F1"), 0.8);
    EXPECT_EQ(fuse->assessment.of(at(dead.board, "F1")).proof, Proof::Story) << "nobody read it by itself";
    const auto limiter = analyse(dead.with(volts("volts-ac", "L2", "N1", 231)).with(volts("volts-ac", "L3", "N1", 0.4)));
    EXPECT_EQ(first_broken(*limiter), "RT1");
    EXPECT_GT(bad(*limiter, "RT1"), 0.8);
    EXPECT_LT(bad(*limiter, "F1"), 0.05);
}

TEST(UnderPower, WhatAWindingGivesAndItsReservoirHolds) {
    const Job dead = foreign("winder-supply").with(act(Do::Symptom, "", "dead"));
    const auto nothing = analyse(dead.with(volts("volts-ac", "L3", "N1", 229)).with(volts("volts-ac", "A1", "A2", 0.1)));
    EXPECT_EQ(first_broken(*nothing), "T1");
    EXPECT_GT(bad(*nothing, "T1"), 0.5);
    const auto fuse = analyse(dead.with(volts("volts-dc", "RAW", "0V", 63)).with(volts("volts-dc", "+65V", "0V", 0)));
    EXPECT_GT(bad(*fuse, "F2"), 2 * bad(*analyse(dead), "F2")); // or what shorts the rail behind it
    EXPECT_GT(bad(*fuse, "Q1"), 2 * bad(*analyse(dead), "Q1"));
    for (const char* ref : {"F1", "RT1", "T1", "BR1"}) EXPECT_LT(bad(*fuse, ref), 0.03) << ref;
}

TEST(UnderPower, WhatAChipIsFedWith) {
    const Job dead = discharged("rb6-fresh").with(act(Do::Symptom, "", "no-start")).with(volts("volts-dc", "HV", "PGND", 322));
    const Board& b = demo_board();
    const auto starts = [&](const Analysis& a) {
        double all = 0;
        for (const auto& part : b.parts)
            if (part.kind == PartKind::Resistor && part.touches(*b.find_net("VCC"))) all += bad(a, part.ref);
        return all;
    };
    const auto before = analyse(dead), starved = analyse(dead.with(volts("volts-dc", "VCC", "PGND", 0.1))),
               waits = analyse(dead.with(volts("volts-dc", "VCC", "PGND", 12.6)));
    EXPECT_GT(starts(*starved), 3 * starts(*before));
    EXPECT_LT(starts(*waits), 0.5 * starts(*before));
    EXPECT_LT(starved->assessment.supply_good, 0.02);
}

TEST(UnderPower, ABoardThatIsFedWithLittle) {
    Job dead = foreign("pattern-reader").with(act(Do::Symptom, "", "dead"));
    dead.board.parts.front().stage = "mains-in";
    const auto open = analyse(dead.with(volts("volts-dc", "V5F", "0V", 5.1, "elv")).with(volts("volts-dc", "V5L", "0V", 0, "elv")));
    EXPECT_EQ(first_broken(*open), "FB1");
}

// Where no sum tells what stands there, it says nothing.
TEST(UnderPower, NothingFromAPlaceThatNoSumKnows) {
    const Job dead = discharged("rb6-fresh").with(act(Do::Symptom, "", "no-start"));
    const auto before = analyse(dead), with = analyse(dead.with(volts("volts-dc", "DRV", "PGND", 3.3)));
    for (const auto& part : demo_board().parts) EXPECT_NEAR(bad(*before, part.ref), bad(*with, part.ref), 1e-9) << part.ref;
}

// More readings than are told apart: those that one fault brings about are one complaint, and none is dropped.
TEST(UnderPower, ManyReadingsOfOneFault) {
    Job job = foreign("winder-supply").with(act(Do::Symptom, "", "dead"));
    for (const auto& [what, red, black] : std::vector<std::array<const char*, 3>>{
             {"volts-dc", "+65V", "0V"}, {"volts-dc", "+12V", "0V"}, {"volts-dc", "RAW", "0V"}, {"volts-ac", "A1", "A2"}})
        job = job.with(volts(what, red, black, 0.1));
    const auto before = analyse(job), after = analyse(job.with(volts("volts-ac", "L2", "N1", 230)).with(volts("volts-ac", "L3", "N1", 0)));
    EXPECT_LT(bad(*before, "RT1"), 0.5);
    EXPECT_EQ(first_broken(*after), "RT1");
    EXPECT_GT(bad(*after, "RT1"), 0.8);
}

// The alternating range on a reservoir of the line is the poor man's ripple; a simple meter shows the direct volts there.
TEST(UnderPower, AlternatingVoltsOfADirectRail) {
    const Job hum = foreign("winder-supply").with(act(Do::Symptom, "", "hum"));
    const auto worn = [](const Analysis& a) { return bad(a, "C1") + bad(a, "C2"); };
    const auto before = analyse(hum), rough = analyse(hum.with(volts("volts-ac", "+65V", "0V", 14))),
               calm = analyse(hum.with(volts("volts-ac", "+65V", "0V", 0.9))),
               direct = analyse(hum.with(volts("volts-ac", "+65V", "0V", 140)));
    EXPECT_GT(worn(*rough), 1.1 * worn(*calm));
    EXPECT_LT(worn(*calm), worn(*before));
    EXPECT_NEAR(worn(*direct), worn(*before), 1e-9);
}
