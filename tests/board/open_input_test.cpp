// SPDX-License-Identifier: GPL-3.0-or-later
// Chips and rails as boards have them, not as our own ten do: fed from the input, without a source pin, negative, with pins left out.
#include "board/edit.h"
#include "board/nominal.h"
#include "board/roles.h"
#include "circuit/board_circuit.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

ChipPins pins(const std::string& line) {
    static std::vector<Board> kept;
    kept.push_back(board({line}));
    return chip_pins(kept.back().part(0));
}

Problems problems_of(const std::vector<std::string>& lines) {
    Board draft;
    for (const auto& line : lines) draft.parts.push_back(part(line));
    const auto made = make_board(draft);
    return made ? Problems{} : made.problems();
}

} // namespace

TEST(ChipPins, ByWhatBoardsCallThem) {
    const auto offline = pins("U1 integrated-switch - D=DRAIN S=PG VCC=VCC FB=FB");
    EXPECT_EQ(offline.ground, "S");
    EXPECT_EQ(offline.supply, "VCC");
    EXPECT_EQ(offline.high, "D");
    EXPECT_EQ(offline.low, "S");
    const auto without_source = pins("U1 integrated-switch - D=DRAIN GND=PG VDD=VCC");
    EXPECT_EQ(without_source.low, "GND");
    EXPECT_EQ(without_source.supply, "VDD");
    const auto both = pins("U1 integrated-switch - D=DRAIN S=SRC GND=PG VCC=VCC"); // a resistor between source and ground
    EXPECT_EQ(both.ground, "GND");
    EXPECT_EQ(both.low, "S");
    const auto buck = pins("U1 integrated-switch - VIN=IN SW=SW GND=0V FB=FB");
    EXPECT_EQ(buck.high, "VIN");
    EXPECT_EQ(buck.low, "SW");
    EXPECT_EQ(buck.ground, "GND");
    const auto boost = pins("U1 integrated-switch - SW=SW GND=0V VCC=V");
    EXPECT_EQ(boost.high, "SW");
    EXPECT_EQ(boost.low, "GND");
    EXPECT_EQ(pins("U1 controller - VIN=IN GND=0V DRV=G").supply, "VIN");
    EXPECT_EQ(pins("U1 controller - VIN=IN GND=0V DRV=G").high, "");
    EXPECT_FALSE(buck.own_supply);
    EXPECT_TRUE(boost.own_supply);
    const auto driver = pins("U1 controller - VCC=V COM=G HO=H VB=B VS=S");
    EXPECT_EQ(driver.ground, "COM");
    const auto amplifier = pins("U1 controller - V+=P V-=N OUT=O");
    EXPECT_EQ(amplifier.ground, "V-");
    EXPECT_EQ(amplifier.supply, "V+");
    EXPECT_EQ(pins("U1 regulator - IN=A ADJ=B OUT=C").ground, "ADJ");
    EXPECT_EQ(pins("U1 shunt-reference 2.5V A=A K=B R=C").ground, "A");
}

// One word that is no value does not close the board: the part counts as one without, it is said, and other steps go on.
TEST(OpenInput, AValueThatCannotBeReadIsSaidAndTakenForNone) {
    Board draft;
    draft.parts = {part("L1 choke UU9 1=A 2=B 3=C 4=D"), part("R1 resistor soon 1=A 2=C"), part("F1 fuse 4A 1=B 2=D")};
    const auto made = make_board(draft);
    ASSERT_TRUE(made);
    const auto said = [&](const char* value) {
        return std::count_if(made->warnings.begin(), made->warnings.end(),
                             [&](const Problem& p) { return p.kind == ProblemKind::UnreadableValue && p.found == value; });
    };
    EXPECT_EQ(said("UU9"), 1);
    EXPECT_EQ(said("soon"), 1);
    EXPECT_EQ(said("4A"), 0);
    EXPECT_TRUE(made->board.part(1).taken_for);
    EXPECT_EQ(likely_value(made->board.part(1))->ohms, made->board.part(1).taken_for);
    PartEdit rated;
    rated.ref = "R1";
    rated.watts = 2;
    EXPECT_TRUE(apply_edit(made->board, rated));
    rated.value = "later";
    EXPECT_FALSE(apply_edit(made->board, rated));
}

TEST(OpenInput, AnyOfTheDocumentedPins) {
    EXPECT_TRUE(problems_of({"U1 integrated-switch - D=A GND=B"}).empty());
    EXPECT_TRUE(problems_of({"U1 controller - VIN=A GND=B SW=C FB=D"}).empty());
    EXPECT_TRUE(problems_of({"U1 shunt-reference 2.5V A=A K=B"}).empty());
    EXPECT_TRUE(problems_of({"L1 choke 1m 1=A 2=B"}).empty());
    EXPECT_TRUE(problems_of({"U1 regulator -15V IN=A GND=B OUT=C"}).empty());
    EXPECT_FALSE(problems_of({"U1 controller - GND=B"}).empty());
    EXPECT_FALSE(problems_of({"L1 choke 1m 1=A 2=B 3=C"}).empty()) << "a winding with one end";
    EXPECT_FALSE(problems_of({"R1 resistor -5k 1=A 2=B"}).empty());
}

// Shorted inside, a chip joins the ends of its own switch and nothing else.
TEST(OpenInput, AShortedSwitchJoinsTheEndsOfTheSwitch) {
    const auto buck = board({"U1 integrated-switch - VIN=IN SW=SW GND=0V FB=FB", "R1 resistor 10k 1=SW 2=0V"});
    EXPECT_LT(ohms(buck, "IN", "SW", faults(buck, {"U1:ds-short"})).value, 5);
    EXPECT_GT(ohms(buck, "SW", "0V", faults(buck, {"U1:ds-short"})).value, 1e3);
    const auto grounded = board({"U1 integrated-switch - D=DRAIN GND=PG VCC=VCC", "R1 resistor 10k 1=DRAIN 2=PG"});
    EXPECT_LT(ohms(grounded, "DRAIN", "PG", faults(grounded, {"U1:ds-short"})).value, 5);
}

// A chip that runs from the input has no supply of its own whose capacitor could dry out.
TEST(OpenInput, AnInputIsNoSupplyOfItsOwn) {
    const auto b = board({"U1 controller - VIN=IN GND=0V DRV=G", "C1 electrolytic 100u +=IN -=0V", "Q1 mosfet - D=IN G=G S=SW",
                          "L1 inductor 22u 1=SW 2=OUT"});
    EXPECT_EQ(find_roles(b).supply, -1);
    EXPECT_TRUE(find_roles(b).supply_capacitors.empty());
}

TEST(OpenInput, BandsOfANegativeRailRunUpwards) {
    Rail rail{"-15V", "0V", -15, 0.05, 2, 0, 1};
    const auto [low, high] = rail.between(0.9, 1.1);
    EXPECT_NEAR(low, -16.5, 1e-9);
    EXPECT_NEAR(high, -13.5, 1e-9);
    EXPECT_EQ(rail.watts(), 30);
}
