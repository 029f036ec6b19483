// SPDX-License-Identifier: GPL-3.0-or-later
// A switch before the coil of a rail that is through: the rail gets what feeds it. Common practice, no source.
#include "board/step_down.h"

#include "damage/figures.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Board with_rails(const std::vector<std::string>& lines, std::vector<Rail> rails) {
    Board draft;
    for (const auto& line : lines) draft.parts.push_back(part(line));
    draft.rails = std::move(rails);
    auto made = make_board(std::move(draft));
    EXPECT_TRUE(made);
    return made ? made->board : Board{};
}

const std::vector<Rail> kFive = {{.net = "+5V", .ret = "0V", .volts = 5, .amps = 2}};

// Behind a supply of 24 V by its capacitor: the stage with this switch and this coil.
Board stage(const std::vector<std::string>& around) {
    std::vector<std::string> lines = {"J1 connector - 1=IN.in 1'=IN 2=0V.in 2'=0V", "C1 electrolytic 220u +=IN -=0V",
                                      "D1 schottky 60V A=0V K=SW", "C2 electrolytic 470u +=+5V -=0V",
                                      "J2 connector - 1=+5V 1'=+5V.o 2=0V 2'=0V.o"};
    lines.insert(lines.end(), around.begin(), around.end());
    Board out = with_rails(lines, kFive);
    out.parts[static_cast<std::size_t>(at(out, "C1"))].volts = 35;
    return out;
}

double volts_of(const Board& board, const std::string& by) {
    const BoardRoles roles = find_roles(board);
    BehaviourModel model(board, roles);
    FiguresModel figures(board, roles);
    const auto with = faults(board, {by});
    return figures.of(with, model.judge(with)).rails.front().volts;
}

} // namespace

TEST(StepDown, WhateverTheSwitchIs) {
    const std::string coil = "L1 inductor 47u 1=SW 2=+5V";
    const struct {
        std::vector<std::string> around;
        const char* through;
    } kinds[] = {{{coil, "U1 controller - VIN=IN SW=SW GND=0V FB=FB"}, "U1:ds-short"},
                 {{coil, "U1 controller - VIN=IN OUT=SW GND=0V FB=+5V"}, "U1:ds-short"},
                 {{coil, "U1 integrated-switch - VIN=IN SW=SW GND=0V FB=FB"}, "U1:ds-short"},
                 {{coil, "U1 integrated-switch - D=IN S=SW VCC=BP FB=FB"}, "U1:ds-short"},
                 {{coil, "Q1 mosfet 60V G=DR D=SW S=IN", "U1 controller - VCC=IN DRV=DR GND=0V FB=FB"}, "Q1:ds-short"},
                 {{coil, "Q1 bjt-pnp 60V B=DR C=SW E=IN", "U1 controller - VCC=IN DRV=DR GND=0V FB=FB"}, "Q1:ce-short"}};
    for (const auto& kind : kinds) {
        const Board b = stage(kind.around);
        const auto found = find_roles(b).step_downs;
        ASSERT_EQ(found.size(), 1u) << kind.around.back();
        EXPECT_NEAR(found.front().volts, 35 / b.practice().rating_margin, 1e-9);
        EXPECT_GT(volts_of(b, kind.through), 15) << kind.around.back();
        BehaviourModel model(b, find_roles(b));
        const auto judged = model.judge(faults(b, {kind.through}));
        EXPECT_EQ(judged.running, Running::High) << kind.around.back();
        EXPECT_GT(symptom_chance(b.practice(), "high-output", judged), 0.2);
        EXPECT_GT(symptom_chance(b.practice(), "dead", judged), 0.3) << "what runs on it is broken";
    }
}

TEST(StepDown, NotWhatStepsUpOrWorksInPairs) {
    const Board up = stage({"L1 inductor 47u 1=IN 2=SW", "U1 controller - VIN=IN SW=SW GND=0V FB=FB", "D2 schottky 60V A=SW K=+5V"});
    EXPECT_TRUE(find_roles(up).step_downs.empty());
    EXPECT_FALSE(may_fail(up, up.part(at(up, "U1")), FaultMode::DsShort));
    EXPECT_TRUE(may_fail(up, up.part(at(up, "U1")), FaultMode::OutputShort));
    const Board pair = stage({"L1 inductor 47u 1=SW 2=+5V", "Q1 mosfet 60V G=H D=IN S=SW", "Q2 mosfet 60V G=L D=SW S=0V",
                              "U1 controller - VCC=IN DH=H DL=L GND=0V FB=FB"});
    EXPECT_TRUE(find_roles(pair).step_downs.empty()) << "the lower one turns on against it";
    EXPECT_FALSE(may_fail(pair, pair.part(at(pair, "U1")), FaultMode::DsShort)) << "its switches stand outside";
    const Board& demo = demo_board();
    for (const auto& part : demo.parts)
        if (part.kind == PartKind::Controller) EXPECT_FALSE(may_fail(demo, part, FaultMode::DsShort)) << part.ref;
}

// A chip with its output named OUT, a rail of 33 V before it.
TEST(StepDown, IsFoundByVoltsAndByOhms) {
    const Job job = with_all(foreign("valve-control"), {said("high-output")});
    EXPECT_GT(bad(*analyse(job), "U1"), 0.3);
    EXPECT_LT(bad(*analyse(job), "Q1"), 0.2);
    const auto by_volts = analyse(with_all(job, {live("volts-dc", "+5V", "GND", 14, "elv")}));
    EXPECT_GT(bad(*by_volts, "U1"), 0.75);
    EXPECT_LT(bad(*by_volts, "U2"), 0.3) << "it makes the 3.3 V";
    const auto by_ohms = analyse(with_all(job, {read("ohms", "SW", "+24V", 0.4)}));
    EXPECT_GT(bad(*by_ohms, "U1"), 0.97);
}

// 21 V on the capacitor of a 5 V rail, and on the chip that it feeds.
TEST(StepDown, BreaksWhatHangsOnTheRail) {
    const auto analysis = analyse(with_all(foreign("loom-control"), {said("high-output"), read("ohms", "VIN", "SW1", 0.2)}));
    EXPECT_GT(bad(*analysis, "U1"), 0.95);
    EXPECT_GT(bad(*analysis, "C3"), 0.3) << "10 V";
    EXPECT_GT(bad(*analysis, "U2"), 0.1) << "fed by it";
    const auto sound = analyse(with_all(foreign("loom-control"), {said("high-output"), over(read("ohms", "VIN", "SW1", 0))}));
    EXPECT_LT(bad(*sound, "C3"), bad(*analysis, "C3"));
}
