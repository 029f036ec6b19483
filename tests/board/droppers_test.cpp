// SPDX-License-Identifier: GPL-3.0-or-later
// Supplies whose current a capacitor in series with the mains limits: who that capacitor is, and what its loss and shorts behind it do.
#include "board/droppers.h"
#include "damage/behaviour.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// A relay timer: X capacitor across the line, two capacitors in series with it, bridge, Zener diode, transistor behind.
Board timer(const char* bulk_stage, bool second = false) {
    std::vector<std::string> lines = {"J1 connector - 1=L.in 1'=L 2=N.in 2'=N",
                                      "F1 fuse T500mA 1=L 2=L1",
                                      "R1 fusible-resistor 47R 1=L1 2=L2",
                                      "C0 x-capacitor 220n 1=L2 2=N",
                                      "RV1 varistor 275V 1=L2 2=N",
                                      "C1 x-capacitor 680n 1=L2 2=AC",
                                      "R2 resistor 470k 1=L2 2=AC",
                                      "BR1 bridge 600V_1A ~1=AC ~2=N +=V24 -=GND",
                                      "D1 zener 24V A=GND K=V24",
                                      "C2 electrolytic 470u +=V24 -=GND",
                                      "R3 resistor 1k 1=V24 2=Z",
                                      "D2 zener 5V1 A=GND K=Z",
                                      "Q1 bjt-npn 45V_0A5 C=V24 B=Z E=V5",
                                      "C3 electrolytic 100u +=V5 -=GND"};
    if (second) lines.emplace_back("C4 film 330n 1=L2 2=AC");
    Board draft = board(lines);
    const std::map<std::string, std::string> stages = {{"J1", "mains-in"}, {"F1", "mains-in"}, {"R1", "mains-in"}, {"C0", "filter"},
                                                       {"RV1", "filter"},  {"C1", "filter"},   {"BR1", "rectify"}, {"D1", "rectify"},
                                                       {"C2", bulk_stage}, {"C3", "rails"},    {"Q1", "control"}};
    for (auto& part : draft.parts)
        if (const auto at = stages.find(part.ref); at != stages.end()) part.stage = at->second;
    draft.parts[static_cast<std::size_t>(at(draft, "C2"))].volts = 35;
    draft.mains = Mains{230, 50};
    draft.rails = {{.net = "V24", .ret = "GND", .volts = 24, .amps = 0.03}, {.net = "V5", .ret = "GND", .volts = 5, .amps = 0.02}};
    return make_board(draft)->board;
}

Running runs(const Board& b, const std::vector<std::string>& with) {
    BehaviourModel model(b, find_roles(b));
    return model.judge(faults(b, with)).running;
}

} // namespace

TEST(Droppers, AreWhatTheInletReachesTheRailsThrough) {
    for (const char* stage : {"bulk", "smooth"}) {
        const Board one = timer(stage), two = timer(stage, true);
        EXPECT_EQ(find_roles(one).droppers, std::vector<int>{at(one, "C1")}) << stage;
        EXPECT_EQ(find_roles(two).droppers, (std::vector<int>{at(two, "C1"), at(two, "C4")})) << stage;
    }
    for (const char* job : {"rb6-fresh", "fd1-linear", "gl1-adapter", "cr8-buck", "sw3-flyback-integrated"})
        EXPECT_TRUE(find_roles(discharged(job).board).droppers.empty()) << job << ": both contacts reach what they feed";
}

TEST(Droppers, LimitWhatAShortDraws) {
    for (const char* stage : {"bulk", "smooth"}) {
        const Board b = timer(stage);
        EXPECT_EQ(runs(b, {}), Running::Normal) << stage;
        for (const char* by : {"F1:open", "R1:open", "C1:open", "D1:short", "C2:short", "BR1:short@~1+"})
            EXPECT_EQ(runs(b, {by}), Running::NoInput) << stage << " " << by << ": no fuse blows for a few milliamperes";
        EXPECT_EQ(runs(b, {"RV1:short"}), Running::BlowsFuse) << stage;
        EXPECT_EQ(runs(b, {"C1:low"}), Running::Weak) << stage;
        EXPECT_EQ(runs(b, {"D1:open"}), Running::High) << stage;
        EXPECT_EQ(runs(timer(stage, true), {"C1:open"}), Running::Weak) << "the other one still passes its share";
    }
}

// Half of what is heard of such a unit is its capacitor; a short at 24 V takes neither its reservoir nor its fuse along.
TEST(Droppers, TheCapacitorIsSuspectedBeforeTheReservoir) {
    const Board b = timer("bulk");
    EXPECT_DOUBLE_EQ(running_bulk_volts(b, find_roles(b)), 24);
    EXPECT_GT(bulk_volts(b, find_roles(b)), 320) << "with its Zener open, what may hurt is the line";
    Job job;
    job.board = b;
    const auto dead = analyse(job.with(act(Do::Symptom, "", "dead")));
    const auto& all = dead->assessment;
    EXPECT_LT(all.of(at(b, "C2")).modes.at(FaultMode::Short), 0.1);
    EXPECT_LT(all.of(at(b, "D1")).bad, 0.3);
    EXPECT_GT(all.of(at(b, "C1")).bad, all.of(at(b, "C0")).bad);
}
