// SPDX-License-Identifier: GPL-3.0-or-later
#include "board/value_reading.h"

#include "base/e_series.h"
#include "base/engineering.h"

#include <gtest/gtest.h>

#include <cmath>

namespace ohmo {
namespace {

std::string first(PartKind kind, const std::string& text) {
    const auto all = value_readings(kind, text);
    return all.empty() ? "" : all.front().value;
}

// IEC 60062 and EIA-96 as in base/marking; which of two readings comes first is common practice, no source.
TEST(ValueReading, MarkingsBecomeValues) {
    EXPECT_EQ(first(PartKind::Resistor, "472"), "4k7");
    EXPECT_EQ(first(PartKind::Resistor, "470"), "470R");
    EXPECT_EQ(first(PartKind::Resistor, "4k7"), "4k7");
    EXPECT_EQ(first(PartKind::Resistor, "R33"), "0R33");
    EXPECT_EQ(first(PartKind::Resistor, "30C"), "20k");
    EXPECT_EQ(first(PartKind::Resistor, "yellow violet red gold"), "4k7");
    EXPECT_EQ(first(PartKind::Ceramic, "104"), "100n");
    EXPECT_EQ(first(PartKind::Ceramic, "100"), "10p");
    EXPECT_EQ(first(PartKind::Film, "47n"), "47n");
    EXPECT_EQ(first(PartKind::Electrolytic, "47u"), "47u");
    EXPECT_EQ(first(PartKind::Electrolytic, "2200 16V"), "2200u");
    EXPECT_EQ(first(PartKind::Electrolytic, "47"), "47u");
    EXPECT_EQ(first(PartKind::Fuse, "T2A"), "T2A");
    EXPECT_EQ(first(PartKind::Mosfet, "600V 6A"), "600V 6A");
    EXPECT_EQ(first(PartKind::Resistor, "soon"), "");
}

// What stands in files that others wrote.
TEST(ValueReading, FiguresAreFoundAmongWords) {
    const auto figure = [](PartKind kind, const char* text) { return printed_figure(kind, text).value_or(-1); };
    const auto is = [&](PartKind kind, const char* text, double value) { EXPECT_NEAR(figure(kind, text) / value, 1, 1e-9) << text; };
    is(PartKind::Resistor, "4.7 kΩ", 4700);
    is(PartKind::Resistor, "22 kOhm 1 %", 22e3);
    is(PartKind::Resistor, "47k/2W", 47e3);
    is(PartKind::Resistor, "0Ω22", 0.22);
    is(PartKind::Resistor, "2 x 100k", 100e3);
    is(PartKind::Thermistor, "NTC 10R", 10);
    is(PartKind::Thermistor, "10D-9", 10);
    is(PartKind::Electrolytic, "10 µF 50 V", 10e-6);
    is(PartKind::Electrolytic, "47uF/50V", 47e-6);
    is(PartKind::Electrolytic, "47", 47e-6);
    is(PartKind::Electrolytic, "220MFD", 220e-6);
    is(PartKind::Tantalum, "106 16V", 10e-6);
    is(PartKind::Ceramic, "104", 100e-9);
    is(PartKind::Ceramic, "102 1KV", 1e-9);
    is(PartKind::Film, "473J", 47e-9);
    is(PartKind::Film, ".047", 47e-9);
    is(PartKind::YCapacitor, "222M", 2.2e-9);
    is(PartKind::XCapacitor, "0.1uF X2", 100e-9);
    is(PartKind::Inductor, "22 µH", 22e-6);
    is(PartKind::Choke, "2x10mH", 10e-3);
    EXPECT_FALSE(printed_figure(PartKind::Choke, "UU9.8"));
    EXPECT_FALSE(printed_figure(PartKind::Resistor, "soon"));
}

TEST(ValueReading, TheOtherReadingIsOffered) {
    const auto all = value_readings(PartKind::Resistor, "470");
    ASSERT_EQ(all.size(), 2u);
    EXPECT_EQ(all[1].value, "47R");
    EXPECT_EQ(all[1].scheme, MarkingScheme::ThreeDigit);
    ASSERT_FALSE(value_readings(PartKind::Electrolytic, "107 16V").empty());
    EXPECT_EQ(value_readings(PartKind::Electrolytic, "107 16V").front().volts, 16);
}

TEST(ValueReading, LetterCodeReadsBack) {
    for (int decade = -12; decade <= 7; ++decade)
        for (double m : e_series(24)) {
            const double value = m * std::pow(10.0, decade);
            for (char unit : {'F', 'R', 'H'}) {
                if (unit == 'R' && decade < -3) continue;
                const auto back = parse_quantity(letter_code(value, unit));
                ASSERT_TRUE(back) << letter_code(value, unit);
                EXPECT_NEAR(*back / value, 1, 1e-5) << letter_code(value, unit);
            }
        }
}

} // namespace
} // namespace ohmo
