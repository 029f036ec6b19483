// SPDX-License-Identifier: GPL-3.0-or-later
#include "repair/drawer_discharge.h"

#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<StockItem> drawer(const std::string& rows) { return *parse_stock("id,kind,value,watts,count\n" + rows, "drawer.csv"); }

} // namespace

// 68 uF at 325 V through 10 kohm: 10.6 W in the first instant, 10 V after 2.37 s (check value 3, worked from the closed form).
TEST(DrawerDischarge, WhatTheDrawerHasAndWhatItStands) {
    const auto fits = drawer_discharge(shipped_practice(), drawer("A,resistor,10k,2,5\n"), 68e-6, 325, 10);
    ASSERT_TRUE(fits);
    EXPECT_EQ(fits->count, 1);
    EXPECT_NEAR(fits->watts_each, 10.56, 0.01);
    EXPECT_NEAR(fits->seconds, 2.37, 0.01);
    EXPECT_FALSE(drawer_discharge(shipped_practice(), drawer("A,resistor,10k,0.25,2\n"), 68e-6, 325, 10)); // burns, two of them as well
    EXPECT_FALSE(drawer_discharge(shipped_practice(), drawer("A,resistor,1M,2,5\n"), 68e-6, 325, 10));     // takes minutes
    EXPECT_FALSE(drawer_discharge(shipped_practice(), drawer("A,resistor,33k,0.25,1\n"), 68e-6, 325, 10)); // too many volts for its body
    EXPECT_EQ(drawer_discharge(shipped_practice(), drawer("A,resistor,33k,0.25,2\n"), 68e-6, 325, 10)->count,
              2); // two of them in series stand it
    EXPECT_EQ(drawer_discharge(shipped_practice(), drawer("A,resistor,33k,0.25,3\nB,resistor,22k,2,1\n"), 68e-6, 325, 10)->id,
              "B"); // one is simpler than two
    EXPECT_FALSE(drawer_discharge(shipped_practice(), drawer("A,electrolytic,10u,,5\n"), 68e-6, 325, 10));
    EXPECT_FALSE(drawer_discharge(shipped_practice(), drawer("A,resistor,10k,2,5\n"), 68e-6, 5, 10)); // nothing to empty
}
