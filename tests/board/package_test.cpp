// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/package.h"
#include "support/demo.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

Package of(const std::string& line) {
    const Board b = board({line});
    return package_of(b, 0);
}

} // namespace

// Cans as catalogues have them (common practice, no source): 100 uF 400 V some 18 mm across, 1,000 uF 25 V 10 to 16, 47 uF 25 V 5 to 8.
TEST(Package, CansGrowWithTheirCharge) {
    const auto across = [](const std::string& value, double volts) {
        Board one = board({"C1 electrolytic " + value + " +=A -=B"});
        one.parts[0].volts = volts;
        return package_of(one, 0).length;
    };
    EXPECT_NEAR(across("100u", 400), 16.5, 2.5);
    EXPECT_NEAR(across("1000u", 25), 13, 3);
    EXPECT_NEAR(across("47u", 25), 6.5, 1.5);
}

TEST(Package, PowerStandsOnAHeatSink) {
    EXPECT_TRUE(of("Q1 mosfet 600V D=A G=B S=C").cooled);
    EXPECT_FALSE(of("Q1 bjt-npn - C=A B=B E=C").cooled);
    EXPECT_EQ(of("U1 controller - VCC=A GND=B DRV=C").body, Body::Chip);
    EXPECT_EQ(of("LD1 load 10 1=A 2=B").body, Body::None);
}

TEST(Package, EveryPartOfEveryBoardHasABody) {
    for (const char* name : {"rb6-fresh", "gl1-adapter", "tl12-half-bridge", "tm4-ac-fed-split"}) {
        const Board b = discharged(name).board;
        for (int i = 0; i < static_cast<int>(b.parts.size()); ++i) {
            const auto p = package_of(b, i);
            const auto kind = b.part(i).kind;
            if (kind == PartKind::Load || kind == PartKind::Lamp || kind == PartKind::Track) continue;
            EXPECT_NE(p.body, Body::None) << b.part(i).ref;
            EXPECT_GT(p.length, 1) << b.part(i).ref;
            EXPECT_LT(p.length, 90) << b.part(i).ref;
            EXPECT_GT(p.width, 1) << b.part(i).ref;
        }
    }
}
