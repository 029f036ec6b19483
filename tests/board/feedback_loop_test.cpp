// SPDX-License-Identifier: GPL-3.0-or-later
// Which way an output goes when a part of its loop is lost. Worked from the circuits: a shunt reference and a feedback pin see the share of
// the output that the divider leaves; a coupler's current throttles the converter. Common practice, no source.
#include "board/feedback_loop.h"

#include "board/roles.h"
#include "design/design.h"
#include "support/demo.h"
#include "support/designs.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

class Loop {
public:
    explicit Loop(const std::vector<std::string>& lines, const std::vector<Rail>& rails)
        : m_board(with(board(lines), rails)), m_roles(find_roles(m_board)) {}
    explicit Loop(const Board& of) : m_board(of), m_roles(find_roles(m_board)) {}
    LoopLoss operator()(const std::string& text) const { return m_roles.loop.loss(m_board, fault(m_board, text)); }

private:
    static Board with(Board made, const std::vector<Rail>& rails) {
        made.rails = rails;
        auto out = make_board(std::move(made));
        if (!out) std::abort();
        return out->board;
    }
    Board m_board;
    BoardRoles m_roles;
};

Rail rail(const std::string& net, double volts) {
    Rail out;
    out.net = net;
    out.ret = "0V";
    out.volts = volts;
    return out;
}

const std::vector<std::string> kFlyback = {"U1 controller - VCC=VCC GND=PG DRV=DRV CS=CS FB=COMP",
                                           "R1 resistor 22k 1=COMP 2=OC",
                                           "R2 resistor 4k7 1=VCC 2=OC",
                                           "OK1 optocoupler - A=OA K=OK C=OC E=PG",
                                           "R3 resistor 470 1=+12V 2=OA",
                                           "R4 resistor 1k 1=OA 2=OK",
                                           "U2 shunt-reference 2.5V A=0V K=OK R=REF",
                                           "R5 resistor 22k 1=+12V 2=MID",
                                           "R6 resistor 16k 1=MID 2=REF",
                                           "R7 resistor 10k 1=REF 2=0V",
                                           "R8 resistor 10k 1=REF 2=LOOP",
                                           "C1 film 100n 1=LOOP 2=OK",
                                           "D1 zener 15V A=OVA K=+12V",
                                           "OK2 optocoupler - A=OVA K=0V C=OVC E=PG",
                                           "OK3 optocoupler - A=ONA K=ONK C=OC2 E=PG",
                                           "R9 resistor 1k 1=+12V 2=ONA",
                                           "J2 connector - 1=+12V 1'=+12V.o 2=0V 2'=0V.o 3=ONK 3'=ONK.o"};

} // namespace

TEST(FeedbackLoop, OfAReferenceAndACoupler) {
    const Loop of(kFlyback, {rail("+12V", 12)});
    for (const char* lost : {"OK1:open", "OK1:weak", "U2:open", "R3:open", "R1:open", "R5:open", "R6:high"})
        EXPECT_EQ(of(lost), LoopLoss::Climbs) << lost;
    for (const char* lost : {"R7:open", "R7:high", "R2:open", "OK1:short", "U2:short"}) EXPECT_EQ(of(lost), LoopLoss::Falls) << lost;
    for (const char* beside : {"R4:open", "R8:open", "C1:open"}) EXPECT_EQ(of(beside), LoopLoss::None) << beside;
}

// Most couplers are there for the loop: one whose diode nobody has traced to its end is taken for one.
TEST(FeedbackLoop, ACouplerThatIsHalfTraced) {
    for (const char* coupler :
         {"OK1 optocoupler - A=OA K=OK C=FB E=PG", "OK1 optocoupler - A=XA K=XK C=FB E=PG", "OK1 optocoupler - A=XA K=0V C=FB E=PG"}) {
        const Loop of({"U1 controller - VCC=VCC GND=PG FB=FB", coupler, "R1 resistor 470 1=+12V 2=OA", "C1 electrolytic 470u +=+12V -=0V"},
                      {rail("+12V", 12)});
        EXPECT_EQ(of("OK1:open"), LoopLoss::Climbs) << coupler;
    }
}

TEST(FeedbackLoop, WhatGuardsOrSwitchesIsNoneOfIt) {
    const Loop of(kFlyback, {rail("+12V", 12)});
    for (const char* beside : {"OK2:open", "D1:open", "OK3:open", "R9:open"}) EXPECT_EQ(of(beside), LoopLoss::None) << beside;
}

// A supply that nobody entered as a rail feeds the diode; what else hangs on it is not in its way, and a mesh of resistors is walked once.
TEST(FeedbackLoop, EndsAtASupplyThatIsNoRail) {
    std::vector<std::string> lines = {"U1 controller - VCC=VCC GND=PG FB=FB", "OK1 optocoupler - A=OA K=OK C=FB E=PG",
                                      "R1 resistor 470 1=AUX 2=OA",           "C1 electrolytic 47u +=AUX -=0V",
                                      "R2 resistor 10k 1=AUX 2=0V",           "U2 shunt-reference 2.5V A=0V K=OK R=REF",
                                      "R3 resistor 10k 1=+12V 2=REF",         "R4 resistor 2k6 1=REF 2=0V"};
    for (int row = 0; row < 12; ++row) // a ladder of 2^12 ways
        for (const char* leg : {"A", "B"})
            lines.push_back("R" + std::to_string(100 + 2 * row + (*leg == 'A' ? 0 : 1)) +
                            " resistor 1k 1=" + (row == 0 ? "OA" : "M" + std::to_string(row)) + " 2=M" + std::to_string(row + 1));
    const Loop of(lines, {rail("+12V", 12)});
    for (const char* lost : {"OK1:open", "R1:open", "R3:open"}) EXPECT_EQ(of(lost), LoopLoss::Climbs) << lost;
    for (const char* beside : {"R2:open", "R100:open", "R123:open"}) EXPECT_EQ(of(beside), LoopLoss::None) << beside;
}

// A Zener in series with the coupler's diode is the reference of small adapters.
TEST(FeedbackLoop, AZenerAsReference) {
    const Loop of({"U1 controller - VCC=VCC GND=PG DRV=DRV FB=FB", "OK1 optocoupler - A=OA K=0V C=FB E=PG", "R1 resistor 100 1=ZA 2=OA",
                   "D1 zener 11V A=ZA K=+12V"},
                  {rail("+12V", 12)});
    for (const char* lost : {"OK1:open", "D1:open", "R1:open"}) EXPECT_EQ(of(lost), LoopLoss::Climbs) << lost;
    EXPECT_EQ(of("D1:short"), LoopLoss::Falls);
}

TEST(FeedbackLoop, OfAChipOnItsOutput) {
    const Loop of({"U1 integrated-switch - VIN=IN SW=SW GND=0V FB=FB", "L1 inductor 22u 1=SW 2=+5V", "R1 resistor 52k3 1=+5V 2=FB",
                   "R2 resistor 10k 1=FB 2=0V", "C1 ceramic 470p 1=+5V 2=FB"},
                  {rail("+5V", 5)});
    EXPECT_EQ(of("R1:open"), LoopLoss::Climbs);
    EXPECT_EQ(of("R2:open"), LoopLoss::Falls);
    EXPECT_EQ(of("C1:open"), LoopLoss::None);
}

// It holds its output 1.25 V above the adjusting pin: there the legs do the opposite.
TEST(FeedbackLoop, OfAnAdjustableRegulator) {
    const Loop of({"U1 regulator - IN=IN ADJ=ADJ OUT=+9V", "R1 resistor 240 1=+9V 2=ADJ", "R2 resistor 1k5 1=ADJ 2=0V",
                   "C1 electrolytic 470u +=IN -=0V"},
                  {rail("+9V", 9)});
    EXPECT_EQ(of("R1:open"), LoopLoss::Falls);
    EXPECT_EQ(of("R2:open"), LoopLoss::Climbs);
}

// Error transistor against a Zener on its emitter, and a Zener on the base of a follower.
TEST(FeedbackLoop, OfTransistors) {
    const Loop linear(demo("fd1-linear").board);
    EXPECT_EQ(linear("R6:open"), LoopLoss::Climbs);
    EXPECT_EQ(linear("R7:open"), LoopLoss::Falls);
    const Loop follower({"Q1 bjt-npn - C=IN B=ZB E=+12V", "D1 zener 13V A=0V K=ZB", "R1 resistor 1k 1=IN 2=ZB", "D2 zener 15V A=0V K=+12V"},
                        {rail("+12V", 12)});
    EXPECT_EQ(follower("D1:open"), LoopLoss::Climbs);
    EXPECT_EQ(follower("D1:short"), LoopLoss::Falls);
    EXPECT_EQ(follower("D2:open"), LoopLoss::None); // it guards
}

TEST(FeedbackLoop, EveryDemoHasItsOwn) {
    for (const char* name : {"rb6-fresh", "sw3-flyback-integrated"})
        EXPECT_EQ(Loop(demo(name).board)("OK1:open"), LoopLoss::Climbs) << name;
    const Loop half(demo("tl12-half-bridge").board), buck(demo("cr8-buck").board), inverter(demo("fc1-inverter").board);
    EXPECT_EQ(half("R11:open"), LoopLoss::Climbs);
    EXPECT_EQ(half("R12:open"), LoopLoss::Falls);
    EXPECT_EQ(half("C7:open"), LoopLoss::None);
    EXPECT_EQ(buck("R6:open"), LoopLoss::Climbs);
    EXPECT_EQ(buck("R7:open"), LoopLoss::Falls);
    for (const char* lost : {"OK1:open", "R8:open", "R9:open"})
        EXPECT_EQ(inverter(lost), LoopLoss::Climbs) << lost; // no reference: the coupler compares
    EXPECT_EQ(inverter("R10:open"), LoopLoss::Falls);
    EXPECT_TRUE(find_roles(demo("bd2-self-oscillating").board).loop.empty());
}

// Boards of the designer say what each resistor is for.
TEST(FeedbackLoop, AsTheDesignerMeantIt) {
    int upper = 0, lower = 0;
    for (const auto& one : designed_supplies()) {
        const auto design = design_supply(one.supply);
        ASSERT_TRUE(design) << one.name;
        const BoardRoles roles = find_roles(design->draft);
        for (int i = 0; i < static_cast<int>(design->draft.parts.size()); ++i) {
            const Part& part = design->draft.part(i);
            const bool up = part.role.find("divider, upper") != std::string::npos,
                       low = part.role.find("divider, lower") != std::string::npos;
            if (part.kind != PartKind::Resistor || (!up && !low)) continue;
            ++(up ? upper : lower);
            EXPECT_EQ(roles.loop.loss(design->draft, {i, FaultMode::Open, {}}), up ? LoopLoss::Climbs : LoopLoss::Falls)
                << one.name << " " << part.ref << " " << part.role;
        }
    }
    EXPECT_GT(upper, 20);
    EXPECT_GT(lower, 20);
}
