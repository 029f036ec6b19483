// SPDX-License-Identifier: GPL-3.0-or-later
// Boards with parts that nobody traced, at random, and converters that the ten families do not have: every sum of what leads to what takes
// them, whatever is missing.
#include "damage/behaviour.h"
#include "damage/enumerate.h"
#include "damage/slow_causes.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Chances are chances, and what breaks is on the board.
void follow_every_fault(const Board& board, const std::string& name) {
    const auto roles = find_roles(board);
    BehaviourModel behaviour(board, roles);
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto kind = library().kinds.find(board.part(i).kind);
        if (kind == library().kinds.end()) continue;
        for (const auto& [mode, data] : kind->second.modes) {
            const Fault root{i, mode, {}};
            for (const auto& leads : slow_consequences(board, roles, root)) {
                ASSERT_GE(leads.chance, 0) << name << " " << board.part(i).ref;
                ASSERT_LE(leads.chance, 1) << name << " " << board.part(i).ref;
                ASSERT_LT(leads.step.fault.part, static_cast<int>(board.parts.size()));
                ASSERT_GE(leads.step.fault.part, 0);
            }
            Scenario alone;
            alone.steps.push_back({root, Cause::Root, 0, 0, 0});
            behaviour.judge(alone);
        }
    }
}

std::vector<std::pair<std::string, Board>> boards() {
    std::vector<std::pair<std::string, Board>> out;
    for (const auto* name : {"rb6-fresh", "bd2-self-oscillating", "cr8-buck", "sw3-flyback-integrated", "tl12-half-bridge"})
        out.emplace_back(name, demo(name).board);
    for (const auto* name : {"sack-sewing", "frame-drive", "winch-brake", "tension-gauge", "tram-stop-sign"})
        out.emplace_back(name, foreign(name).board);
    return out;
}

// Chance that a root takes this part along.
double takes_along(const Board& board, const std::string& root, const std::string& ref) {
    const auto found = root_chains(board, find_roles(board), library(), {}, EnumerateOptions{}.least_leaf, false, {});
    double out = 0;
    for (const auto& r : found->roots) {
        if (!(r.fault == fault(board, root))) continue;
        for (const auto& chain : r.chains)
            if (std::any_of(chain.steps.begin(), chain.steps.end(), [&](const Step& s) { return board.part(s.fault.part).ref == ref; }))
                out += chain.chance;
    }
    return out;
}

} // namespace

TEST(OddBoards, EveryFaultIsFollowedThereWithAnyPartsMissing) {
    std::mt19937 random(4711);
    for (const auto& [name, whole] : boards()) {
        follow_every_fault(whole, name);
        for (int round = 0; round < 6; ++round) {
            Board draft = whole;
            std::bernoulli_distribution gone(0.1 + 0.1 * round);
            std::erase_if(draft.parts, [&](const Part&) { return gone(random); });
            const auto made = make_board(draft);
            if (made) follow_every_fault(made->board, name);
        }
    }
}

// A freewheeling diode on the switch node is no clamp of a transformer's leakage.
TEST(OddBoards, ABuckConverterOnTheMainsHasNoSnubberToLose) {
    const Board b = foreign("tram-stop-sign").board;
    const auto roles = find_roles(b);
    EXPECT_EQ(roles.transformer, -1);
    EXPECT_TRUE(roles.is_power_device(at(b, "Q1")));
    for (const auto& leads : slow_consequences(b, roles, fault(b, "D2:open"))) EXPECT_NE(leads.step.cause, Cause::DrainVolts);
}

// A driver's half that rides on the switch node stands what the node does.
TEST(OddBoards, AShortedUpperSwitchDoesNotDriveItsNodeIntoTheDriver) {
    const Board b = foreign("tunnel-fan").board;
    EXPECT_LT(takes_along(b, "Q101:ds-short", "IC101"), 0.3);
}

// Amperes for a few microseconds: what a capacitor of microfarads leaves through a pin is no surge.
TEST(OddBoards, ASmallCapacitorSeldomKillsAChipThroughItsPin) {
    EXPECT_LT(takes_along(demo("sw3-flyback-integrated").board, "C4:short", "U1"), 0.3);
}

// A capacitor hands on between two inductors: the switch stands on its far side, lies across the input when it shorts, and what is behind
// the capacitor cannot blow a fuse. The diode against reversed polarity before it is no ohm once current flows.
TEST(OddBoards, AConverterThatACapacitorPartsFromItsOutput) {
    const Board b = foreign("signal-lamp").board;
    const auto roles = find_roles(b);
    EXPECT_EQ(roles.power_switch, at(b, "Q1"));
    BehaviourModel model(b, roles);
    EXPECT_EQ(model.judge(Scenario{}).running, Running::Normal);
    EXPECT_EQ(model.judge(faults(b, {"Q1:ds-short"})).running, Running::BlowsFuse);
    EXPECT_EQ(model.judge(faults(b, {"C1:short"})).running, Running::BlowsFuse);
    for (const char* behind : {"D3:short", "C4:short", "C5:short"})
        EXPECT_EQ(model.judge(faults(b, {behind})).running, Running::Hiccup) << behind;
    EXPECT_EQ(model.judge(faults(b, {"C10:short"})).running, Running::Weak) << "a regulator limits it to what the converter can give";
    EXPECT_EQ(model.judge(faults(b, {"Q1:open"})).running, Running::NoStart);
    EXPECT_GT(takes_along(b, "Q1:ds-short", "F1"), 0.4);
}

// Nobody draws the connectors of a board first: it is fed where a fuse or the like has a loose end, and what stands across leads to the
// other contact.
TEST(OddBoards, TheWayInWithoutAConnector) {
    struct Case {
        const char *name, *fuse;
        bool foreign;
    };
    for (const auto& [name, fuse, from_afar] :
         {Case{"rb6-fresh", "F1", false}, Case{"tl12-half-bridge", "F1", false}, Case{"fd1-linear", "F1", false},
          Case{"cr8-buck", "F1", false}, Case{"sw3-flyback-integrated", "F1", false}, Case{"loom-control", "F1", true},
          Case{"winch-drive", "F1", true}, Case{"timer-box", "R1", true}, Case{"felt-welder", "F1", true}, Case{"dye-pump", "F1", true}}) {
        Board draft = from_afar ? foreign(name).board : demo(name).board;
        std::erase_if(draft.parts, [](const Part& p) { return p.kind == PartKind::Connector || p.kind == PartKind::Load; });
        const auto made = make_board(draft);
        ASSERT_TRUE(bool(made)) << name;
        const Board& b = made->board;
        const auto roles = find_roles(b);
        EXPECT_EQ(roles.inlet.size(), 2u) << name;
        BehaviourModel model(b, roles);
        EXPECT_EQ(model.judge(Scenario{}).running, Running::Normal) << name;
        EXPECT_EQ(model.judge(faults(b, {std::string(fuse) + ":open"})).running, Running::NoInput) << name;
        for (int i : roles.stacked ? std::vector<int>{} : roles.bulk)
            EXPECT_EQ(model.judge(std::vector<Fault>{{i, FaultMode::Short, {}}}).running, Running::BlowsFuse) << name;
    }
}

// A diode the wrong way round across the input is no short of a sound board, whichever contact is which.
TEST(OddBoards, AGuardAcrossTheInputIsNoShort) {
    Board b = foreign("signal-lamp").board;
    for (auto& part : b.parts)
        if (part.ref == "J1") {
            std::swap(part.pins[0].net, part.pins[2].net);
            std::swap(part.pins[1].net, part.pins[3].net);
        }
    b = make_board(b)->board;
    EXPECT_EQ(BehaviourModel(b, find_roles(b)).judge(Scenario{}).running, Running::Normal);
}
