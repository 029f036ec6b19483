// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/edit.h"

#include "board/conventions.h"
#include "board/mains_side.h"
#include "board/open_ends.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <algorithm>

namespace ohmo {
namespace {

Board edited(const Board& before, const BoardEdit& edit) {
    auto out = apply_edit(before, edit);
    EXPECT_TRUE(out) << (out ? "" : out.problem().found);
    auto made = make_board(std::move(out->board));
    EXPECT_TRUE(made);
    return std::move(made->board);
}

ProblemKind refusal(const Board& before, const BoardEdit& edit) {
    const auto out = apply_edit(before, edit);
    EXPECT_FALSE(out);
    return out ? ProblemKind::Usage : out.problem().kind;
}

PartEdit part_edit(const std::string& ref) {
    PartEdit e;
    e.ref = ref;
    return e;
}

std::string net_of(const Board& board, const std::string& ref, const std::string& role) {
    return board.net_name(board.part(test::at(board, ref)).net(role));
}

const Board& small() {
    static const Board board = [] {
        Board b =
            test::board({"F1 fuse T2A 1=L 2=HV", "R1 resistor 4k7 1=HV 2=VCC", "C1 electrolytic 47u +=VCC -=0V", "D1 diode - A=0V K=HV"});
        b.rails.push_back({"VCC", "0V", 12, 0.05, 1, *b.find_net("VCC"), *b.find_net("0V")});
        return b;
    }();
    return board;
}

TEST(Edit, AddsAPartWithPinsOfItsOwn) {
    auto e = part_edit("R2");
    e.kind = PartKind::Resistor;
    e.value = "10k";
    e.pins = {{"1", "vcc"}};
    const Board b = edited(small(), e);
    EXPECT_EQ(b.parts.size(), 5u);
    EXPECT_EQ(net_of(b, "R2", "1"), "VCC"); // as it is written elsewhere
    EXPECT_EQ(net_of(b, "R2", "2"), "R2.2");
    EXPECT_EQ(b.parts.back().known, HowKnown::Found);
    e.kind.reset();
    e.ref = "R3";
    EXPECT_EQ(refusal(small(), e), ProblemKind::MissingField);
}

TEST(Edit, ChangesOnlyWhatIsSaid) {
    auto e = part_edit("R1");
    e.value = "2k2";
    Board b = edited(small(), e);
    EXPECT_EQ(b.part(1).value, "2k2");
    EXPECT_EQ(net_of(b, "R1", "2"), "VCC");
    e = part_edit("D1");
    e.kind = PartKind::Resistor; // two pins for two, in their order
    b = edited(b, e);
    EXPECT_EQ(net_of(b, "D1", "1"), "0V");
    EXPECT_EQ(net_of(b, "D1", "2"), "HV");
    e = part_edit("R1");
    e.pins = {{"3", "HV"}};
    EXPECT_EQ(refusal(b, e), ProblemKind::UnknownPin);
    e = part_edit("R1");
    e.value = "many";
    EXPECT_EQ(refusal(b, e), ProblemKind::UnreadableValue);
}

TEST(Edit, NumbersAPartWithItsOwnNets) {
    auto e = part_edit("R2");
    e.kind = PartKind::Resistor;
    e.pins = {{"1", "VCC"}};
    const Board b = edited(small(), e);
    auto number = part_edit("R2");
    number.new_ref = "R7";
    const auto out = apply_edit(b, number);
    ASSERT_TRUE(out);
    EXPECT_EQ(out->renames.refs.at("R2"), "R7");
    EXPECT_EQ(out->board.parts.back().pins.back().net, "R7.2");
    number.new_ref = "C1";
    EXPECT_EQ(refusal(b, number), ProblemKind::DuplicateRef);
}

TEST(Edit, ABeepJoinsNetsAndSilencePartsThem) {
    auto e = part_edit("R2");
    e.kind = PartKind::Resistor;
    Board b = edited(small(), e);
    b = edited(b, JointEdit{{"R2", "1"}, {"C1", "+"}, true});
    EXPECT_EQ(net_of(b, "R2", "1"), "VCC"); // a name that somebody gave stays
    b = edited(b, JointEdit{{"R1", "2"}, {"C1", "+"}, false});
    EXPECT_EQ(net_of(b, "R1", "2"), "R1.2");
    EXPECT_EQ(net_of(b, "C1", "+"), "VCC");
    EXPECT_EQ(edited(b, JointEdit{{"R1", "2"}, {"C1", "+"}, false}).parts, b.parts); // as is known
    EXPECT_EQ(refusal(b, JointEdit{{"R1", "9"}, {"C1", "+"}, true}), ProblemKind::UnknownPin);
    EXPECT_EQ(refusal(b, JointEdit{{"R9", "1"}, {"C1", "+"}, true}), ProblemKind::NoSuchPart);
}

TEST(Edit, ARailKeepsPartsAtBothEnds) {
    EXPECT_EQ(refusal(small(), JointEdit{{"C1", "-"}, {"C1", "+"}, true}), ProblemKind::SameNetTwice);
    auto gone = part_edit("D1");
    gone.gone = true;
    Board b = edited(small(), gone);
    gone.ref = "C1";
    EXPECT_EQ(refusal(b, gone), ProblemKind::RailsNet); // nothing else is at 0V
    b = edited(b, RailEdit{small().rails[0], true});
    EXPECT_TRUE(b.rails.empty());
    EXPECT_EQ(edited(b, gone).parts.size(), 2u);
    EXPECT_EQ(refusal(b, RailEdit{{"+5V", "0V", 5, 0.05, 1, -1, -1}, false}), ProblemKind::NoSuchNet);
}

TEST(Edit, ANetTakesAnotherNameOrBecomesPartOfOne) {
    Board b = edited(small(), NetEdit{"vcc", "+12V"});
    EXPECT_EQ(b.rails[0].net, "+12V");
    EXPECT_EQ(net_of(b, "R1", "2"), "+12V");
    b = edited(b, NetEdit{"L", "HV"});
    EXPECT_EQ(net_of(b, "F1", "1"), net_of(b, "F1", "2"));
    EXPECT_EQ(refusal(b, NetEdit{"nowhere", "X"}), ProblemKind::NoSuchNet);
}

// Common practice, no source.
TEST(Conventions, LettersTellTheKind) {
    EXPECT_EQ(kind_of_ref("R12", "4k7", {}), PartKind::Resistor);
    EXPECT_EQ(kind_of_ref("C3", "104", {}), PartKind::Ceramic);
    EXPECT_EQ(kind_of_ref("C3", "220u", {}), PartKind::Electrolytic);
    EXPECT_EQ(kind_of_ref("C3", "", {"+"}), PartKind::Electrolytic);
    EXPECT_EQ(kind_of_ref("Q4", "", {"C", "B", "E"}), PartKind::BjtNpn);
    EXPECT_EQ(kind_of_ref("Q4", "", {"C", "G", "E"}), PartKind::Igbt);
    EXPECT_EQ(kind_of_ref("Q4", "", {"d", "g", "s"}), PartKind::Mosfet);
    EXPECT_EQ(kind_of_ref("IC2", "", {"IN", "OUT"}), PartKind::Regulator);
    EXPECT_EQ(kind_of_ref("U2", "", {"A", "K", "R"}), PartKind::ShuntReference);
    EXPECT_EQ(kind_of_ref("ZD1", "18V", {}), PartKind::Zener);
    EXPECT_FALSE(kind_of_ref("WX9", "", {}));
}

// The stages that the blueprints write, guessed again from kinds and wires.
TEST(Conventions, StagesOfTheDemoAreFoundAgain) {
    Board b = test::demo_board();
    const Board written = b;
    for (auto& part : b.parts) part.stage.clear();
    fill_stages(b);
    int same = 0, side = 0;
    const auto behind = [](const std::string& s) { return s == "rectify-out" || s == "smooth" || s == "feedback" || s == "rails"; };
    for (std::size_t i = 0; i < b.parts.size(); ++i) {
        EXPECT_FALSE(b.parts[i].stage.empty());
        same += b.parts[i].stage == written.parts[i].stage;
        side += behind(b.parts[i].stage) == behind(written.parts[i].stage);
    }
    EXPECT_GE(side, static_cast<int>(b.parts.size()) - 2);
    EXPECT_GE(same * 2, static_cast<int>(b.parts.size()));
}

// A board that somebody wrote without stages: the way in, what stores, what rectifies the rails and what switches are found all the same.
TEST(Conventions, RolesWithoutStages) {
    const std::set<std::string> demos = {"rb6-fresh",  "tl12-half-bridge", "sw3-flyback-integrated",
                                         "fd1-linear", "cr8-buck",         "gl1-adapter"};
    auto names = demos;
    names.merge(std::set<std::string>{"loom-control", "winch-drive", "timer-box", "felt-welder", "dye-pump", "fence-box", "swing-arm",
                                      "winder-supply"});
    for (const auto& name : names) {
        const Board written = demos.contains(name) ? test::demo(name).board : test::foreign(name).board;
        Board b = written;
        for (auto& part : b.parts) part.stage.clear();
        fill_stages(b);
        const auto with = find_roles(written), without = find_roles(b);
        EXPECT_EQ(with.inlet, without.inlet) << name;
        EXPECT_EQ(with.input_fuses, without.input_fuses) << name;
        if (written.mains) EXPECT_EQ(with.bulk, without.bulk) << name; // without, what stores at the input is called either
        EXPECT_EQ(with.switches, without.switches) << name;
        for (int i : with.rectifiers) EXPECT_EQ(b.part(i).stage, "rectify-out") << name << " " << b.part(i).ref;
        EXPECT_LE(without.rectifiers.size(), with.rectifiers.size() + 1) << name;
        if (written.mains) EXPECT_EQ(with.hv, without.hv) << name;
        for (std::size_t i = 0; i < b.parts.size(); ++i)
            if (written.parts[i].stage == "smooth" && is_wet_or_solid_electrolytic(b.parts[i].kind))
                EXPECT_EQ(b.parts[i].stage, "smooth") << name << " " << b.parts[i].ref;
    }
}

TEST(MainsSide, RectifiedMainsAreKnownWithoutStages) {
    for (const char* name : {"rb6-fresh", "tl12-half-bridge", "sw3-flyback-integrated", "bd2-self-oscillating"}) {
        Board b = test::demo(name).board;
        for (auto& part : b.parts) part.stage.clear();
        EXPECT_TRUE(rectifies_mains(b)) << name;
    }
    for (const char* name : {"fd1-linear", "gl1-adapter", "cr8-buck", "fc1-inverter", "rb6-rail"})
        EXPECT_FALSE(rectifies_mains(test::demo(name).board)) << name;
}

TEST(OpenEnds, NameWhatIsMissing) {
    auto e = part_edit("R2");
    e.kind = PartKind::Resistor;
    e.pins = {{"2", "VC-C"}};
    const Board b = edited(small(), e);
    const auto ends = open_ends(b);
    const auto of = [&](OpenEndKind kind, const std::string& pin) {
        return std::find_if(ends.begin(), ends.end(),
                            [&](const OpenEnd& o) { return o.kind == kind && o.pin == pin && o.part >= 0 && b.part(o.part).ref == "R2"; });
    };
    ASSERT_NE(of(OpenEndKind::FreePin, "1"), ends.end());
    const auto lonely = of(OpenEndKind::LonelyNet, "2");
    ASSERT_NE(lonely, ends.end());
    EXPECT_EQ(lonely->near, "VCC");
    ASSERT_TRUE(lonely->repair);
    EXPECT_EQ(net_of(edited(b, *lonely->repair), "R2", "2"), "VCC");
}

TEST(OpenEnds, AWireAcrossTheBarrierIsSeen) {
    EXPECT_TRUE(open_ends(test::demo_board()).empty());
    EXPECT_FALSE(half_traced(test::demo_board()));
    const auto side = [](const std::string& ref) { return test::demo_board().part(test::at(test::demo_board(), ref)).pins.front().role; };
    const Board b = edited(test::demo_board(), JointEdit{{"U2", "A"}, {"C5", "-"}, true});
    const auto ends = open_ends(b);
    ASSERT_FALSE(ends.empty()) << side("C5");
    EXPECT_EQ(ends.front().kind, OpenEndKind::SidesMeet);
    EXPECT_FALSE(ends.front().way.empty());
}

TEST(OpenEnds, ABoardWithoutInletOrRailsIsHalfTraced) {
    EXPECT_TRUE(half_traced(Board{}));
    Board b = small();
    b.rails.clear();
    EXPECT_FALSE(half_traced(b)); // from a file: taken for whole
    b.parts.front().known = HowKnown::Found;
    EXPECT_TRUE(half_traced(b));
}

} // namespace
} // namespace ohmo
