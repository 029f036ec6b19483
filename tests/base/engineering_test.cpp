// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "base/parallel.h"

#include <atomic>

using namespace ohmo;

namespace {
double parsed(const char* text) {
    const auto q = parse_quantity(text);
    return q ? *q : std::nan("");
}
} // namespace

TEST(Engineering, ThreeFiguresWithUnit) {
    EXPECT_EQ(format_quantity(2.9, "Ω"), "2.90 Ω");
    EXPECT_EQ(format_quantity(1900, "Ω"), "1.90 kΩ");
    EXPECT_EQ(format_quantity(68e-6, "F"), "68.0 µF");
    EXPECT_EQ(format_quantity(0.33, "Ω"), "330 mΩ");
    EXPECT_EQ(format_quantity(999.6, "Ω"), "1.00 kΩ"); // rounding may carry into the next prefix
    EXPECT_EQ(format_quantity(0, "V"), "0.00 V");
    EXPECT_EQ(format_quantity(-1500, "V"), "-1.50 kV");
    EXPECT_EQ(format_quantity(std::nan(""), "V"), "–");
}

TEST(Engineering, NominalLeavesZerosOut) {
    EXPECT_EQ(format_nominal(68e-6, "F"), "68 µF");
    EXPECT_EQ(format_nominal(4700, "Ω"), "4.7 kΩ");
}

TEST(Engineering, ReadsWhatTechniciansWrite) {
    EXPECT_DOUBLE_EQ(parsed("68u"), 68e-6);
    EXPECT_DOUBLE_EQ(parsed("4k7"), 4700);
    EXPECT_DOUBLE_EQ(parsed("0R33"), 0.33);
    EXPECT_DOUBLE_EQ(parsed("R47"), 0.47);
    EXPECT_DOUBLE_EQ(parsed("2.2M"), 2.2e6);
    EXPECT_DOUBLE_EQ(parsed("1,5k"), 1500);
    EXPECT_DOUBLE_EQ(parsed("10 kΩ"), 10e3);
    EXPECT_DOUBLE_EQ(parsed("470nF"), 470e-9);
    EXPECT_DOUBLE_EQ(parsed("1e-3"), 1e-3);
}

TEST(Engineering, RefusesNonsense) {
    for (const char* text : {"", "k", "4k7k", "ohm", "1..2", "--3", "4k7x"}) EXPECT_TRUE(std::isnan(parsed(text))) << text;
}

// Whatever is shown can be typed in again and is off by no more than the rounding.
TEST(Engineering, RoundTripsOverTwentyDecades) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> exponent(-11.5, 8.5);
    for (int i = 0; i < 2000; ++i) {
        const double value = std::pow(10.0, exponent(random));
        EXPECT_NEAR(parsed(format_quantity(value, "Ω").c_str()) / value, 1, 0.0051) << value;
    }
}

TEST(Engineering, SharesNeverClaimCertainty) {
    EXPECT_EQ(format_share(0.999), ">99 %");
    EXPECT_EQ(format_share(0.001), "<1 %");
    EXPECT_EQ(format_share(0.42), "42 %");
}

TEST(Parallel, EveryIndexOnce) {
    std::vector<std::atomic<int>> seen(1000);
    in_parallel(seen.size(), [&](std::size_t i) { ++seen[i]; });
    for (const auto& n : seen) EXPECT_EQ(n, 1);
    in_parallel(0, [](std::size_t) { FAIL(); });
}
