// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

#include "board/nominal.h"

#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Board draft_with(const std::vector<std::string>& lines) {
    Board draft;
    for (const auto& l : lines) draft.parts.push_back(part(l));
    return draft;
}

ProblemKind first_problem(Board draft) {
    const auto made = make_board(std::move(draft));
    return made ? ProblemKind::Usage : made.problem().kind;
}

} // namespace

TEST(Board, NumbersNetsByName) {
    const Board b = board({"R1 resistor 1k 1=B 2=A", "R2 resistor 1k 1=A 2=B"});
    EXPECT_EQ(b.nets, (std::vector<std::string>{"A", "B"}));
    EXPECT_EQ(b.part(0).net("1"), 1);
    EXPECT_EQ(b.part(0).net("9"), -1);
}

TEST(Board, FindsPartsWhateverTheCase) {
    const Board b = board({"R1 resistor 1k 1=A 2=B", "C1 ceramic 1n 1=A 2=B"});
    EXPECT_EQ(b.find_part("r1"), 0);
    EXPECT_EQ(b.find_part("C1"), 1);
    EXPECT_FALSE(b.find_part("C2"));
    EXPECT_TRUE(b.find_net("a"));
}

TEST(Board, NamesEveryProblem) {
    EXPECT_EQ(first_problem(draft_with({"R1 resistor 1k 1=A 2=B", "R1 resistor 1k 1=A 2=B"})), ProblemKind::DuplicateRef);
    EXPECT_EQ(first_problem(draft_with({"R1 resistor 1k 1=A"})), ProblemKind::MissingPin);
    EXPECT_EQ(first_problem(draft_with({"R1 resistor 1k 1=A 2=B 3=C"})), ProblemKind::UnknownPin);
    EXPECT_EQ(first_problem(draft_with({"R1 resistor 1k 1=A 2="})), ProblemKind::PinOnNoNet);
    EXPECT_EQ(first_problem(draft_with({"R1 resistor 1k 1=A 2=B watts=-1"})), ProblemKind::NegativeValue);
    Board rail = draft_with({"R1 resistor 1k 1=A 2=B"});
    rail.rails.push_back({"+5V", "B", 5, 0.05, 1, -1, -1});
    EXPECT_EQ(first_problem(rail), ProblemKind::NoSuchNet);
}

TEST(Board, PlacesAreJsonPointers) {
    const auto made = make_board(draft_with({"R1 resistor 1k 1=A 2=B", "Q1 mosfet - D=A G=B"}));
    ASSERT_FALSE(made);
    EXPECT_EQ(made.problem().place.rfind("/board/parts/1", 0), 0u);
}

TEST(Board, PairsOfWindingsAndContacts) {
    const Board b = board({"T1 transformer 1m P1=A P2=B S1=C S2=D", "J1 connector - 1=A 1'=E 2=B 2'=F"});
    ASSERT_EQ(b.part(0).pairs().size(), 2u);
    EXPECT_EQ(b.part(0).pairs()[1].first->role, "S1");
    EXPECT_EQ(b.part(1).pairs().size(), 2u);
}

TEST(DemoBoard, HasWhatTheSupplyNeeds) {
    const Board& b = demo_board();
    EXPECT_GE(b.parts.size(), 60u);
    EXPECT_EQ(b.rails.size(), 3u);
    std::set<std::string> stages;
    for (const auto& p : b.parts) {
        stages.insert(p.stage);
        EXPECT_TRUE(nominal_value(p)) << p.ref;
    }
    EXPECT_EQ(stages.size(), stage_order().size());
}

// The sums a designer would do: turns against rails, sense resistor against power, hold-up, controller supply.
TEST(DemoBoard, ValuesAddUp) {
    const Board& b = demo_board();
    const auto& turns = b.part(at(b, "T1")).turns;
    const double volts_a_turn = (24 + 0.9) / turns.at("S1-S2");
    EXPECT_NEAR(volts_a_turn * turns.at("S3-S4"), 12 + 0.6, 0.12 * 12);
    EXPECT_NEAR(volts_a_turn * turns.at("S5-S6"), 5 + 0.45, 0.12 * 5);
    const double aux = volts_a_turn * turns.at("A1-A2") - 0.7;
    EXPECT_GT(aux, 10.0); // above the controller's stop threshold
    EXPECT_LT(aux, 16.5); // below its start threshold and the clamp
    double watts = 0;
    for (const auto& r : b.rails) watts += r.volts * r.amps;
    const double reflected = volts_a_turn * turns.at("P1-P2"), valley = 270;
    const double duty = reflected / (reflected + valley);
    const double mean = watts / 0.85 / valley / duty;
    const double limit = 1.0 / *nominal_value(b.part(at(b, "R9")))->ohms; // controllers of this class trip near 1 V
    EXPECT_GT(limit, 1.15 * mean);
    EXPECT_LT(limit, 4 * mean);
    EXPECT_LT(325 + 1.5 * reflected, 650); // drain with its clamp below the switch's rating
}

TEST(Fault, TextRoundTrips) {
    const Board& b = demo_board();
    for (const char* text :
         {"C5:dry", "Q1:ds-short", "BR1:short@~1+", "R9:open", "U1:output-short", "T1:shorted-turns", "OK1:weak", "R4:dry-joint@1"})
        EXPECT_EQ(fault_text(b, fault(b, text)), text);
}

TEST(Fault, SaysWhatIsPossible) {
    const Board& b = demo_board();
    EXPECT_EQ(parse_fault(b, "X9:open").problem().kind, ProblemKind::NoSuchPart);
    const auto wrong = parse_fault(b, "R9:bulged");
    ASSERT_FALSE(wrong);
    EXPECT_EQ(wrong.problem().kind, ProblemKind::UnknownFaultMode);
    EXPECT_NE(wrong.problem().expected.find("open"), std::string::npos);
    EXPECT_EQ(parse_fault(b, "BR1:short@~9+").problem().kind, ProblemKind::UnknownPin);
}

TEST(Fault, EveryModeOfEveryKindHasAName) {
    for (const auto& kind : all_kinds())
        for (auto mode : modes_of(kind.kind)) {
            const auto back = mode_from_name(mode_name(mode));
            ASSERT_TRUE(back) << kind.name;
            EXPECT_TRUE(mode_applies(kind.kind, *back)) << kind.name << " " << mode_name(mode);
        }
}

TEST(Nominal, ReadsRatingsFromTheValue) {
    const auto q = nominal_value(part("Q1 mosfet 650V_7A D=A G=B S=C"));
    EXPECT_DOUBLE_EQ(q->volts.value_or(0), 650);
    EXPECT_DOUBLE_EQ(q->amps.value_or(0), 7);
    const auto u = nominal_value(part("U1 controller 16V_10V VCC=A GND=B"));
    EXPECT_DOUBLE_EQ(u->start_volts.value_or(0), 16);
    EXPECT_DOUBLE_EQ(u->stop_volts.value_or(0), 10);
    EXPECT_FALSE(u->volts);
    for (const auto& [line, volts] : {std::pair{"D1 zener 6V2_1W3 A=A K=B", 6.2},
                                      {"D1 zener C5V1 A=A K=B", 5.1},
                                      {"D1 zener 13V A=A K=B", 13.0},
                                      {"U1 regulator -5V2_1A IN=A GND=B OUT=C", -5.2},
                                      {"U1 regulator 3V3_0A8 IN=A GND=B OUT=C", 3.3}})
        EXPECT_DOUBLE_EQ(nominal_value(part(line))->volts.value_or(0), volts) << line;
    EXPECT_DOUBLE_EQ(nominal_value(part("D1 zener 6V2_1W3 A=A K=B"))->watts.value_or(0), 1.3);
    EXPECT_DOUBLE_EQ(nominal_value(part("D1 diode 200V_1A5 A=A K=B"))->amps.value_or(0), 1.5);
    EXPECT_DOUBLE_EQ(nominal_value(part("F1 fuse T2A 1=A 2=B"))->amps.value_or(0), 2);
    EXPECT_FALSE(nominal_value(part("R1 resistor bulged 1=A 2=B")));
}
