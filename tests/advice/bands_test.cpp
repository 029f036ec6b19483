// SPDX-License-Identifier: GPL-3.0-or-later
// Bands of a reading: in order, apart, and with the chance that the stories behind them have.
#include "advice/next_reading.h"

#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Chance of the stories whose prediction falls into a band, from the definition.
double chance_of(const Analysis& a, const Query& query, const Band& band) {
    double sum = 0, all = 0;
    for (const auto& [p, scenario] : a.assessment.posterior) {
        auto faults = scenario.faults();
        std::erase_if(faults, [&](const Fault& f) { return a.replay.evidence.renewed.contains(f.part); });
        const auto told = a.predictor->predict(query, faults);
        all += p;
        if (told.over ? band.over : !band.over && told.value >= band.lo && told.value <= band.hi) sum += p;
    }
    return sum / all;
}

std::vector<Query> queries(const Analysis& a) {
    std::vector<Query> out;
    for (const auto& act : a.next.acts)
        if (act.act == Act::Read) out.push_back(act.query);
    return out;
}

void check(const Analysis& a, const Query& query, const std::vector<Band>& bands) {
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
    for (const auto& band : bands)
        if (band.p > 0.05) EXPECT_NEAR(band.p, chance_of(a, query, band), 0.05);
}

} // namespace

TEST(Bands, InOrderApartAndWithTheChanceOfTheirStories) {
    for (const char* name : {"rb6-half-way", "rb6-rail", "gl1-adapter"}) {
        const auto a = analyse(name == std::string("rb6-half-way") ? demo(name) : discharged(name));
        const auto all = queries(*a);
        ASSERT_FALSE(all.empty()) << name;
        for (std::size_t k = 0; k < std::min<std::size_t>(all.size(), 4); ++k)
            check(*a, all[k], reading_bands(*a->predictor, a->assessment, a->replay.evidence, all[k]));
    }
}

TEST(Bands, AReadingThatTellsNothingHasOneHealthyBand) {
    const auto a = analyse(discharged("rb6-fresh"));
    const auto& board = a->replay.board;
    const Query query{
        Quantity::Ohms, *board.find_net("PE"), *board.find_net("0V"), -1, {}, 0}; // across the barrier: over, whatever is wrong
    const auto bands = reading_bands(*a->predictor, a->assessment, a->replay.evidence, query);
    ASSERT_FALSE(bands.empty());
    EXPECT_TRUE(bands.back().over);
    EXPECT_TRUE(bands.back().healthy);
    EXPECT_GT(bands.back().p, 0.9);
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
