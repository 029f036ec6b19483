// SPDX-License-Identifier: GPL-3.0-or-later
// Bands of a reading: in order, apart, and with the chance that the stories behind them have.
#include "advice/bands.h"

#include "support/demo.h"

#include <cmath>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<Query> queries(const Analysis& a) {
    std::vector<Query> out;
    for (const auto& act : a.next.acts)
        if (act.act == Act::Read) out.push_back(act.query);
    return out;
}

void check(const std::vector<Band>& bands) {
    double sum = 0;
    int healthy = 0;
    for (std::size_t k = 0; k < bands.size(); ++k) {
        const Band& band = bands[k];
        sum += band.p;
        healthy += band.healthy;
        EXPECT_TRUE(band.over || band.lo < band.hi);
        if (k + 1 < bands.size()) {
            EXPECT_FALSE(band.over) << "over-range stands last";
            const bool only_shown = band.p == 0 || bands[k + 1].p == 0; // the healthy one, whoever else lies there
            if (!bands[k + 1].over && !only_shown) EXPECT_LE(band.hi, bands[k + 1].lo * (1 + 1e-9));
        }
        for (std::size_t s = 1; s < band.suspects.size(); ++s) EXPECT_GE(band.suspects[s - 1].second, band.suspects[s].second);
        for (const auto& [part, chance] : band.suspects) EXPECT_LE(chance, 1 + 1e-9);
    }
    EXPECT_EQ(healthy, 1);
    EXPECT_LE(sum, 1 + 1e-9);
    EXPECT_GT(sum, 0.95);
}

} // namespace

TEST(Bands, InOrderApartAndWithTheChanceOfTheirStories) {
    for (const char* name : {"rb6-half-way", "rb6-rail", "gl1-adapter"}) {
        const auto a = analyse(name == std::string("rb6-half-way") ? demo(name) : discharged(name));
        const auto all = queries(*a);
        ASSERT_FALSE(all.empty()) << name;
        for (std::size_t k = 0; k < std::min<std::size_t>(all.size(), 4); ++k)
            check(reading_bands(a->replay.board, a->assessment, a->replay.evidence, all[k]));
    }
}

// A band has the chance of the outcomes in it: by drawing from them.
TEST(Bands, HaveTheChanceOfTheirOutcomes) {
    const Fault shorted{0, FaultMode::Short, {}}, leaky{1, FaultMode::Leaky, {}};
    const std::vector<Case> cases = {
        {{0.2, std::log(0.4), 0.3, 0}, {shorted}}, {{0.5, std::log(2e3), 0.1, 1}, {leaky}}, {{0.3, 17.2, 0.5, 2}, {}}};
    const auto bands = bands_of(Quantity::Ohms, cases, cases[2].outcome);
    ASSERT_EQ(bands.size(), 3u);
    EXPECT_NEAR(bands[0].p, 0.2, 1e-9);
    EXPECT_EQ(bands[0].story, shorted);
    EXPECT_NEAR(bands[1].p, 0.5, 1e-9);
    EXPECT_EQ(bands[1].story, leaky);
    EXPECT_TRUE(bands[2].over && bands[2].healthy);
    EXPECT_LT(bands[0].hi, bands[1].lo);
    EXPECT_LT(bands[1].lo, 2e3);
    EXPECT_GT(bands[1].hi, 2e3);
}

TEST(Bands, AcrossTheBarrierNothingIsOffered) {
    const auto a = analyse(discharged("rb6-fresh"));
    const auto& board = a->replay.board;
    const Query query{Quantity::Ohms, *board.find_net("PE"), *board.find_net("0V"), -1, {}, 0};
    EXPECT_TRUE(reading_bands(board, a->assessment, a->replay.evidence, query).empty());
}

TEST(Bands, TheStoryNamedIsOneThatFallsThere) {
    const auto a = analyse(demo("rb6-half-way"));
    for (const auto& act : a->next.acts) {
        if (act.act != Act::Read) continue;
        for (const auto& band : act.bands) {
            if (!band.story || band.p < 0.05) continue;
            const bool suspected =
                std::any_of(band.suspects.begin(), band.suspects.end(), [&](const auto& s) { return s.first == band.story->part; });
            EXPECT_TRUE(suspected) << a->replay.board.part(band.story->part).ref;
        }
    }
}
