// SPDX-License-Identifier: GPL-3.0-or-later
// Figures from IEC 60062, EIA-96 and IEC 60127, from memory.
#include "base/e_series.h"
#include "base/marking.h"

using namespace ohmo;

namespace {

const MarkingMeaning* meaning(const std::vector<MarkingMeaning>& all, MarkingScheme scheme) {
    for (const auto& m : all)
        if (m.scheme == scheme) return &m;
    return nullptr;
}

struct Case {
    const char* text;
    MarkingScheme scheme;
    double value;
};

} // namespace

class Markings : public testing::TestWithParam<Case> {};

TEST_P(Markings, Decode) {
    const auto all = decode_marking(GetParam().text);
    ASSERT_TRUE(all) << GetParam().text;
    const auto* m = meaning(*all, GetParam().scheme);
    ASSERT_NE(m, nullptr) << GetParam().text;
    EXPECT_NEAR(m->value / GetParam().value, 1, 1e-9);
}

INSTANTIATE_TEST_SUITE_P(Standards, Markings,
                         testing::Values(Case{"4K7", MarkingScheme::Iec60062, 4700}, Case{"2R2", MarkingScheme::Iec60062, 2.2},
                                         Case{"R47", MarkingScheme::Iec60062, 0.47}, Case{"1M0", MarkingScheme::Iec60062, 1e6},
                                         Case{"4n7", MarkingScheme::Iec60062, 4.7e-9}, Case{"6p8", MarkingScheme::Iec60062, 6.8e-12},
                                         Case{"u47", MarkingScheme::Iec60062, 0.47e-6}, Case{"472", MarkingScheme::ThreeDigit, 4700},
                                         Case{"4992", MarkingScheme::FourDigit, 49900}, Case{"01A", MarkingScheme::Eia96, 100},
                                         Case{"30C", MarkingScheme::Eia96, 20.0e3}, Case{"96B", MarkingScheme::Eia96, 9760},
                                         Case{"01Y", MarkingScheme::Eia96, 1.00}, Case{"68X", MarkingScheme::Eia96, 49.9},
                                         Case{"yellow violet red gold", MarkingScheme::ColourBands, 4700},
                                         Case{"brown black black red brown", MarkingScheme::ColourBands, 10000},
                                         Case{"T3.15A 250V", MarkingScheme::Fuse, 3.15}, Case{"F2A", MarkingScheme::Fuse, 2},
                                         Case{"T630mA", MarkingScheme::Fuse, 0.63}));

TEST(Marking, TolerancesOfBands) {
    EXPECT_DOUBLE_EQ(meaning(*decode_marking("yellow violet red gold"), MarkingScheme::ColourBands)->tolerance.value_or(0), 0.05);
    EXPECT_DOUBLE_EQ(meaning(*decode_marking("brown black black red brown"), MarkingScheme::ColourBands)->tolerance.value_or(0), 0.01);
}

TEST(Marking, ThreeDigitsMayBeACapacitor) {
    bool found = false;
    for (const auto& m : *decode_marking("104")) found = found || (m.quantity == "capacitance" && std::fabs(m.value / 100e-9 - 1) < 1e-9);
    EXPECT_TRUE(found);
}

TEST(Marking, VoltsOnACan) {
    const auto all = decode_marking("2200 16 V");
    ASSERT_TRUE(all);
    const auto* m = meaning(*all, MarkingScheme::Capacitor);
    ASSERT_NE(m, nullptr);
    EXPECT_NEAR(m->value, 2200e-6, 1e-12);
    EXPECT_DOUBLE_EQ(m->volts.value_or(0), 16);
}

TEST(Marking, FuseCharacteristics) {
    EXPECT_EQ(meaning(*decode_marking("T2A"), MarkingScheme::Fuse)->characteristic, "time-lag");
    EXPECT_EQ(meaning(*decode_marking("F2A"), MarkingScheme::Fuse)->characteristic, "quick-acting");
    EXPECT_EQ(meaning(*decode_marking("F2AL250V"), MarkingScheme::Fuse)->volts, 250);
    EXPECT_EQ(meaning(*decode_marking("5A T 250V"), MarkingScheme::Fuse)->characteristic, "time-lag");
    EXPECT_EQ(meaning(*decode_marking("5A fast"), MarkingScheme::Fuse)->characteristic, "quick-acting");
    for (const auto& [text, amps] : {std::pair{"4A", 4.0}, {"500mA", 0.5}, {"1,6 A 250V", 1.6}}) { // how fast is not printed
        EXPECT_NEAR(meaning(*decode_marking(text), MarkingScheme::Fuse)->value, amps, 1e-9) << text;
        EXPECT_TRUE(meaning(*decode_marking(text), MarkingScheme::Fuse)->characteristic.empty()) << text;
    }
}

// Common practice, no source: the V of a Zener stands for the point, the letter before it for its tolerance.
TEST(Marking, VoltsOfAZener) {
    struct {
        const char* printed;
        double volts, tolerance;
    } const rows[] = {{"6V2", 6.2, 0}, {"C5V1", 5.1, 0.05}, {"B12V", 12, 0.02}, {"3.9V", 3.9, 0}, {"13V", 13, 0}, {"0V8", 0.8, 0}};
    for (const auto& row : rows) {
        const auto m = decode_marking(row.printed);
        ASSERT_TRUE(m) << row.printed;
        EXPECT_EQ(m->front().quantity, "voltage") << row.printed;
        EXPECT_DOUBLE_EQ(m->front().value, row.volts) << row.printed;
        EXPECT_DOUBLE_EQ(m->front().tolerance.value_or(0), row.tolerance) << row.printed;
    }
    EXPECT_FALSE(decode_marking("F5V1"));
    EXPECT_FALSE(decode_marking("V"));
    EXPECT_EQ(decode_marking("2200 16V")->front().quantity, "capacitance"); // a can with its rating
    EXPECT_FALSE(decode_marking("T3.15A 2200 16V"));                        // two markings
}

TEST(Marking, NonsenseIsRefused) {
    EXPECT_FALSE(decode_marking("zzz"));
    EXPECT_FALSE(decode_marking("yellow nonsense red"));
}

// IEC 60063, from memory: E24 deviates from rounded powers; E96 is round(10^(k/96), 3 figures).
TEST(ESeries, Members) {
    EXPECT_EQ(e_series(6), (std::vector<double>{1.0, 1.5, 2.2, 3.3, 4.7, 6.8}));
    EXPECT_EQ(e_series(12).size(), 12u);
    const auto e96 = e_series(96);
    ASSERT_EQ(e96.size(), 96u);
    for (int k = 0; k < 96; ++k) EXPECT_NEAR(e96[static_cast<std::size_t>(k)], std::round(std::pow(10, k / 96.0) * 100) / 100, 1e-9);
    EXPECT_TRUE(e_series(7).empty());
}

TEST(ESeries, NearestAndNext) {
    EXPECT_NEAR(nearest_preferred(4600, 12), 4700, 1e-6);
    EXPECT_NEAR(preferred_at_least(4701, 12), 5600, 1e-6);
    EXPECT_NEAR(preferred_at_least(9.9, 6), 10, 1e-9);
    std::mt19937 random(3);
    std::uniform_real_distribution<double> exponent(-3, 6);
    for (int i = 0; i < 500; ++i) {
        const double v = std::pow(10, exponent(random));
        EXPECT_GE(preferred_at_least(v, 24), v * (1 - 1e-9));
        EXPECT_LT(preferred_at_least(v, 24), v * 1.16);
    }
}
