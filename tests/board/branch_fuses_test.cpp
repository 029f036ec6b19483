// SPDX-License-Identifier: GPL-3.0-or-later
// What opens a fuse behind the input: in a secondary with a bridge, in one half of a winding with its middle tapped, between bridge and
// bulk capacitor, in a branch of a rail, in a negative one.
#include "board/branch_fuses.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Fuses that a fault opens, by ref.
std::vector<std::string> opened(const Board& b, const std::string& by) {
    std::vector<std::string> out;
    for (const auto& fuse : find_roles(b).branch_fuses)
        if (fuse.opened_by(b, fault(b, by))) out.push_back(b.part(fuse.part).ref);
    return out;
}

using Refs = std::vector<std::string>;

} // namespace

TEST(BranchFuses, ABridgesSecondary) {
    const Board b = board({"T1 transformer - P1=L P2=N S1=A S2=B", "F1 fuse T2A 1=A 2=AF", "BR1 bridge - ~1=AF ~2=B +=RAW -=GND",
                           "C1 electrolytic 2200u +=RAW -=GND", "C2 ceramic 100n 1=AF 2=B", "U1 regulator 12V IN=RAW GND=GND OUT=OUT",
                           "C3 electrolytic 100u +=OUT -=GND", "R1 resistor 2k2 1=RAW 2=GND"});
    for (const char* by : {"BR1:short@~1+", "BR1:short@~2-", "C1:short", "C2:short", "U1:supply-short"})
        EXPECT_EQ(opened(b, by), Refs{"F1"}) << by;
    for (const char* by : {"C3:short", "U1:short", "U1:output-short", "C1:dry", "C1:leaky", "BR1:open@~1+"})
        EXPECT_TRUE(opened(b, by).empty()) << by << ": the regulator holds it at bay, or it draws nothing";
}

TEST(BranchFuses, HalvesOfATappedWinding) {
    const Board b = foreign("loom-tension").board;
    EXPECT_EQ(opened(b, "D1:short"), Refs{"F2"});
    EXPECT_EQ(opened(b, "D4:short"), Refs{"F3"});
    EXPECT_EQ(opened(b, "C1:short"), (Refs{"F2", "F3"})) << "either may go";
    EXPECT_EQ(opened(b, "C4:short"), Refs{"F3"});
    for (const char* by : {"C6:short", "D5:short", "LP1:short", "Q1:ce-short"})
        EXPECT_TRUE(opened(b, by).empty()) << by << ": behind a pass transistor, or in series with the load";
}

TEST(BranchFuses, ABranchOfARail) {
    Board draft =
        board({"J1 connector - 1=P.in 1'=P 2=M.in 2'=M", "F1 fuse T2A 1=P 2=P1", "F2 fuse T500mA 1=P1 2=BR", "L1 inductor 10u 1=BR 2=BR2",
               "C1 tantalum 10u +=BR2 -=M", "C2 tantalum 10u +=P1 -=M", "U1 regulator 5V IN=BR2 GND=M OUT=V5", "C3 ceramic 100n 1=V5 2=M"});
    draft.parts[0].stage = draft.parts[1].stage = "mains-in";
    draft.rails = {{.net = "P1", .ret = "M", .volts = 24, .amps = 1}};
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    const Board& b = made->board;
    EXPECT_EQ(opened(b, "C1:short"), Refs{"F2"});
    EXPECT_TRUE(opened(b, "C2:short").empty()) << "ahead of it";
    EXPECT_TRUE(opened(b, "C3:short").empty()) << "behind a regulator";
    EXPECT_EQ(find_roles(b).input_fuses, std::vector<int>{at(b, "F1")});
}

// Between the bridge and what it feeds, in the current of the mains fuse itself: whichever is rated lower goes first.
TEST(BranchFuses, TheBusOfAConverter) {
    const auto with = [](const char* bus) {
        Board draft = board({"J1 connector - 1=L.in 1'=L 2=N.in 2'=N", "F1 fuse T4A 1=L 2=L1", "BR1 bridge - ~1=L1 ~2=N +=VR -=PG", bus,
                             "C1 electrolytic 220u +=HV -=PG", "Q1 mosfet 600V_10A D=HV G=GU S=PA", "Q2 mosfet 600V_10A D=PB G=GL S=SRC",
                             "D1 diode 600V_3A A=PG K=PA", "R1 resistor 0R1 1=SRC 2=PG", "T1 transformer - P1=PA P2=PB S1=A S2=0V",
                             "D2 diode 200V_5A A=A K=OUT", "C2 electrolytic 470u +=OUT -=0V", "C3 ceramic 1n 1=VR 2=PG"});
        draft.parts[0].stage = draft.parts[1].stage = "mains-in";
        draft.mains = Mains{230, 50};
        draft.rails = {{.net = "OUT", .ret = "0V", .volts = 24, .amps = 1}};
        return make_board(draft)->board;
    };
    const Board b = with("F2 fuse T2A 1=VR 2=HV");
    for (const char* by : {"C1:short", "Q1:short", "Q2:ds-short", "D1:short"}) EXPECT_EQ(opened(b, by), Refs{"F2"}) << by;
    for (const char* by : {"BR1:short@~1+", "C3:short", "C2:short", "D2:short"})
        EXPECT_TRUE(opened(b, by).empty()) << by << ": ahead of it, or behind the transformer";
    EXPECT_TRUE(find_roles(b).branch_fuses.front().first);
    EXPECT_FALSE(find_roles(with("F2 fuse T4A 1=VR 2=HV")).branch_fuses.front().first) << "either may go";
}

TEST(BranchFuses, ANegativeRail) {
    Board draft = board({"T1 transformer - P1=L P2=N S1=A S2=GND S3=GND S4=B", "D1 diode 100V_1A A=NEG K=A", "D2 diode 100V_1A A=NEG K=B",
                         "C1 electrolytic 1000u +=GND -=NEG", "F1 fuse T1A 1=NEG 2=N15", "C2 electrolytic 100u +=GND -=N15"});
    draft.rails = {{.net = "N15", .ret = "GND", .volts = -15, .amps = 0.5}};
    const Board b = make_board(draft)->board;
    EXPECT_EQ(opened(b, "C2:short"), Refs{"F1"});
    EXPECT_TRUE(opened(b, "C1:short").empty()) << "ahead of it";
}

// A diode from the output back to the reservoir lets nothing of a short there through the output's fuse.
TEST(BranchFuses, ADiodeBackToTheReservoir) {
    Board draft = board({"J1 connector - 1=LI 1'=L 2=NI 2'=N stage=mains-in", "F1 fuse T630mA 1=L 2=L1 stage=mains-in",
                         "T1 transformer - P1=L1 P2=N S1=SA S2=SB stage=switch", "BR1 bridge - ~1=SA ~2=SB +=RES -=0V stage=rectify-out",
                         "C1 electrolytic 4700u +=RES -=0V stage=smooth", "Q1 bjt-npn - C=RES B=B E=OUT stage=control",
                         "R1 resistor 1k 1=RES 2=B stage=control", "F2 fuse T4A 1=OUT 2=+18V stage=rails",
                         "C2 electrolytic 100u +=+18V -=0V stage=rails", "D1 diode - A=+18V K=RES stage=rails"});
    draft.mains = Mains{230, 50};
    draft.rails = {{.net = "+18V", .ret = "0V", .volts = 18, .amps = 2}};
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    for (const char* by : {"BR1:short@~1+", "C1:short"}) EXPECT_TRUE(opened(made->board, by).empty()) << by;
    EXPECT_EQ(opened(made->board, "C2:short"), Refs{"F2"});
}
