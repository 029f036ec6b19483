// SPDX-License-Identifier: GPL-3.0-or-later
// What the picker of a new job and `ohmo new` say of a supply that is drawn up.
#include "report/design_wording.h"

#include "design/design.h"
#include "support/designs.h"

#include <gtest/gtest.h>

#include <set>

using namespace ohmo;
using namespace ohmo::test;

TEST(DesignWording, EverySumIsALineWithItsFigures) {
    std::set<SumKind> kinds;
    for (const auto& one : designed_supplies()) {
        const auto design = design_supply(one.supply);
        ASSERT_TRUE(design) << one.name;
        EXPECT_EQ(design->sums.empty(), one.supply.family == "rail") << one.name; // there only what hangs on it is drawn up
        for (const auto& sum : design->sums) {
            const std::string line = wording::design_sum(sum);
            kinds.insert(sum.kind);
            EXPECT_FALSE(line.empty()) << one.name;
            EXPECT_EQ(line.find("nan"), std::string::npos) << line;
            EXPECT_EQ(line.find("inf"), std::string::npos) << line;
            EXPECT_NE(line.find_first_of("0123456789"), std::string::npos) << line;
            EXPECT_LT(line.size(), 140u) << line; // a line of the picker
            EXPECT_TRUE(sum.of.empty() || line.starts_with(sum.of + ": ")) << line;
        }
    }
    EXPECT_GT(kinds.size(), 20u); // most of what a designer adds up was met
}

TEST(DesignWording, WhatWasWantedStandsBesideWhatExists) {
    EXPECT_EQ(wording::design_sum({SumKind::BulkFarads, "C5", 82.1e-6, 100e-6, {97, 325, 293}}),
              "C5: 97.0 W between crests may take 325 V to 293 V: 82.1 µF, chosen 100 µF");
    EXPECT_EQ(wording::design_sum({SumKind::Crest, "", 0, 339.4, {120, 2}}), "120 V rms, doubled: 2 × √2 × that is 339 V");
    EXPECT_NE(wording::design_sum({SumKind::RegulatorWatts, "U3", 4.5, 0, {24, 0.5}}).find("converter chip instead"), std::string::npos);
}

TEST(DesignWording, ChoicesHaveNamesOfTheirOwn) {
    std::set<std::string> titles;
    for (const auto& info : all_options()) {
        const std::string title = wording::option(info.option);
        EXPECT_FALSE(title.empty()) << info.name;
        EXPECT_TRUE(titles.insert(title).second) << title;
        std::set<std::string> values;
        for (int v = 0; v < static_cast<int>(info.values.size()); ++v) {
            const std::string word = wording::option_value(info.option, v);
            EXPECT_FALSE(word.empty()) << info.name;
            EXPECT_TRUE(values.insert(word).second) << info.name << " " << word;
        }
        EXPECT_TRUE(wording::option_value(info.option, -1).empty());
        EXPECT_TRUE(wording::option_value(info.option, 99).empty());
    }
}

TEST(DesignWording, FeedsAsOneReadsThemOffALabel) {
    Supply s = usual_supply("flyback");
    s.volts = 230;
    s.hertz = 50;
    EXPECT_EQ(wording::feed(s), "mains, 230 V 50 Hz");
    s.feed = Feed::AlternatingVolts;
    s.volts = 12;
    EXPECT_EQ(wording::feed(s), "an AC adapter, 12 V 50 Hz");
    s.feed = Feed::DirectVolts;
    s.volts = 24;
    EXPECT_EQ(wording::feed(s), "direct volts, 24 V");
}
