// SPDX-License-Identifier: GPL-3.0-or-later
// Parts that bring each other down, against the sum over everything that can happen.
#include "belief/net.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <random>

using namespace ohmo;
using namespace ohmo::belief;
using namespace ohmo::test;

namespace {

using Table = std::vector<std::vector<double>>;

// Every choice of who falls of itself and of which cause takes effect, each with its chance: how often all have fallen.
double summed(const std::vector<double>& own, const Table& by) {
    const std::size_t n = own.size(), edges = n * n;
    double all = 0;
    for (std::size_t first = 0; first < std::size_t{1} << n; ++first)
        for (std::size_t open = 0; open < std::size_t{1} << edges; ++open) {
            double p = 1;
            for (std::size_t j = 0; j < n; ++j) p *= (first >> j & 1) != 0 ? own[j] : 1 - own[j];
            for (std::size_t e = 0; e < edges && p > 0; ++e) p *= (open >> e & 1) != 0 ? by[e / n][e % n] : 1 - by[e / n][e % n];
            if (p == 0) continue;
            std::size_t fallen = first;
            for (std::size_t round = 0; round < n; ++round)
                for (std::size_t i = 0; i < n; ++i)
                    for (std::size_t j = 0; j < n; ++j)
                        if ((fallen >> i & 1) != 0 && (open >> (i * n + j) & 1) != 0) fallen |= std::size_t{1} << j;
            if (fallen + 1 == std::size_t{1} << n) all += p;
        }
    return all;
}

} // namespace

TEST(Circle, SumsOverWhoFellFirst) {
    std::mt19937 random(7);
    std::uniform_real_distribution<double> chance(0, 1);
    for (std::size_t n = 1; n <= 4; ++n)
        for (int game = 0; game < (n < 4 ? 20 : 2); ++game) {
            std::vector<double> own(n);
            Table by(n, std::vector<double>(n, 0));
            for (double& p : own) p = chance(random) * 0.3;
            for (std::size_t i = 0; i < n; ++i)
                for (std::size_t j = 0; j < n; ++j)
                    if (i != j) by[i][j] = chance(random);
            EXPECT_NEAR(chance_of_circle(own, by), summed(own, by), 1e-9) << n;
        }
}

// Two switches in a totem pole, each of which takes the other along in nine of ten: they are no likelier for that.
TEST(Circle, NeitherStandsForTheOtherAlone) {
    const double wear = 0.02, taken = 0.9;
    EXPECT_NEAR(chance_of_circle({wear, wear}, {{0, taken}, {taken, 0}}), wear * wear + 2 * wear * (1 - wear) * taken, 1e-12);
    EXPECT_EQ(chance_of_circle({0, 0}, {{0, 1}, {1, 0}}), 0);
}

// Stacked bulk capacitors take each other along when one is shorted, not when one is dry, which is ten times as frequent: with nothing told
// both are shorted as rarely as that one of them was first, and no likelier than what was seen of either says.
TEST(Circle, ADryCapacitorShortsNoOther) {
    const auto shorted = [](const Job& job, const char* ref) {
        const auto a = analyse(job);
        const auto& belief = a->assessment.of(at(a->replay.board, ref));
        const auto found = belief.modes.find(FaultMode::Short);
        return found == belief.modes.end() ? 0.0 : found->second;
    };
    const Job untouched = discharged("tl12-half-bridge");
    const Job dry = untouched.with(alone("esr", "C2", 14));
    for (const char* ref : {"C2", "C3"}) EXPECT_LT(shorted(untouched, ref), 0.05) << ref;
    EXPECT_LT(shorted(dry, "C3"), 0.05);
    const auto proven = untouched.with(alone("ohms", "C2", 0.3));
    EXPECT_GT(shorted(proven, "C3"), 0.3);
}
