// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<std::string> twins_of(const Board& b, const std::string& ref) {
    std::vector<std::string> out;
    const auto all = find_twins(b);
    for (int i : all[static_cast<std::size_t>(at(b, ref))]) out.push_back(b.part(i).ref);
    return out;
}

using Refs = std::vector<std::string>;

} // namespace

TEST(Twins, BothLegsOfACentreTapAndHalvesOfABridge) {
    const Board tap = board({"T1 transformer - P1=A P2=B S1=X S2=0V S3=0V S4=Y", "D1 schottky - A=X K=OUT", "D2 schottky - A=Y K=OUT",
                             "C1 electrolytic 100u +=OUT -=0V"});
    EXPECT_EQ(twins_of(tap, "D1"), Refs{"D2"});
    EXPECT_EQ(twins_of(tap, "D2"), Refs{"D1"});
    EXPECT_TRUE(twins_of(tap, "C1").empty());
    const Board bridge = board({"T1 transformer - P1=A P2=B S1=X S2=Y", "D1 diode - A=X K=OUT", "D2 diode - A=Y K=OUT",
                                "D3 diode - A=0V K=X", "D4 diode - A=0V K=Y"});
    EXPECT_EQ(twins_of(bridge, "D1"), Refs{"D2"});
    EXPECT_EQ(twins_of(bridge, "D3"), Refs{"D4"});
}

TEST(Twins, InParallelAndBehindAnInductor) {
    const Board b = board({"L1 inductor 10u 1=P 2=Q", "D1 diode - A=0V K=P", "D2 diode - A=0V K=Q", "D3 diode - A=0V K=P"});
    EXPECT_EQ(twins_of(b, "D1"), (Refs{"D2", "D3"}));
}

TEST(Twins, NotTheOtherWayRoundNorAcrossAWinding) {
    const Board b = board({"T1 transformer - P1=A P2=B S1=X S2=Y", "D1 diode - A=X K=OUT", "D2 diode - A=OUT K=Y", "D3 diode - A=X K=Y",
                           "D4 diode - A=X K=Y"});
    for (const char* ref : {"D1", "D2", "D3", "D4"}) EXPECT_TRUE(twins_of(b, ref).empty()) << ref;
}
