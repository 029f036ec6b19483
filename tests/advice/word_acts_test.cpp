// SPDX-License-Identifier: GPL-3.0-or-later
// Looks, substitutions and cooling: offered where they tell something, priced by the odds they are weighed by.
#include "advice/word_acts.h"

#include "readings/words.h"
#include "support/demo.h"

#include <cmath>
#include <numeric>
#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Board& b = demo_board();

// Half the chance on this fault, half on nothing.
Living either(const Fault& f) {
    Living out;
    out.weights = {0.5, 0.5};
    out.sets = {0, 1};
    out.faults = {{f}, {}};
    return out;
}

Assessment suspecting(const Fault& f, double bad) {
    Assessment out;
    PartBelief belief;
    belief.part = f.part;
    belief.bad = bad;
    belief.leading = f;
    belief.settled_cold = settled_cold(b, f);
    out.parts = {belief};
    return out;
}

std::vector<NextAct> acts(const Fault& f, const Evidence& evidence, double bad = 0.5) {
    return word_acts(b, library(), suspecting(f, bad), evidence, either(f), 1e-6);
}

const NextAct* of(const std::vector<NextAct>& all, Act act) {
    const auto found = std::find_if(all.begin(), all.end(), [&](const NextAct& a) { return a.act == act; });
    return found == all.end() ? nullptr : &*found;
}

double entropy(double p) { return p > 0 ? -p * std::log2(p) : 0; }

} // namespace

TEST(WordActs, ALookIsWorthWhatItsOddsSay) {
    const Fault dry = fault(b, "C5:dry");
    const auto all = acts(dry, {});
    const auto* look = of(all, Act::Look);
    ASSERT_NE(look, nullptr);
    std::set<std::string> words = {"fine"};
    for (const auto& [mode, data] : library().kinds.at(PartKind::Electrolytic).modes)
        for (const auto& [word, chance] : data.looks) words.insert(word);
    // Straight from the definition: H(word) - sum p H(word | story).
    const auto chances = [&](const Fault* f) {
        std::vector<double> out;
        for (const auto& w : words) out.push_back(look_chance(b.practice(), library(), PartKind::Electrolytic, w, f));
        const double sum = std::accumulate(out.begin(), out.end(), 0.0);
        for (double& p : out) p /= sum;
        return out;
    };
    const auto bad = chances(&dry), good = chances(nullptr);
    double bits = 0;
    for (std::size_t k = 0; k < bad.size(); ++k) bits += entropy((bad[k] + good[k]) / 2) - (entropy(bad[k]) + entropy(good[k])) / 2;
    EXPECT_NEAR(look->bits, bits, 1e-12);
    EXPECT_EQ(look->minutes, b.practice().minutes_look);
    double sum = 0;
    for (const auto& band : look->bands) sum += band.p;
    EXPECT_NEAR(sum, 1, 0.1); // what is too rare is not shown
}

TEST(WordActs, WhatWasLookedAtIsNotLookedAtAgain) {
    Evidence seen;
    seen.looked = {at(b, "C5")};
    EXPECT_EQ(of(acts(fault(b, "C5:dry"), seen), Act::Look), nullptr);
}

TEST(WordActs, PowerOnlyWhereItIsAllowed) {
    const Fault weak = fault(b, "OK1:weak");
    Evidence cold, live;
    live.live_allowed = true;
    EXPECT_EQ(of(acts(weak, cold), Act::Substitute), nullptr);
    EXPECT_EQ(of(acts(weak, cold), Act::Cool), nullptr);
    const auto all = acts(weak, live);
    ASSERT_NE(of(all, Act::Substitute), nullptr); // no cold reading settles a weak optocoupler
    ASSERT_NE(of(all, Act::Cool), nullptr);
    EXPECT_GT(of(all, Act::Substitute)->bits, 0.3);
    EXPECT_EQ(of(acts(fault(b, "R9:open"), live), Act::Substitute), nullptr); // an ohmmeter does
    EXPECT_EQ(of(acts(fault(b, "R9:open"), live), Act::Cool), nullptr);       // and no heat moves it
}

TEST(WordActs, NoneForWhatIsCertainOrUnsuspected) {
    const Fault weak = fault(b, "OK1:weak");
    Evidence live;
    live.live_allowed = true;
    EXPECT_EQ(of(acts(weak, live, 0.99), Act::Substitute), nullptr);
    EXPECT_EQ(of(acts(weak, live, 0.02), Act::Substitute), nullptr);
    EXPECT_TRUE(acts(weak, live, 0.001).empty());
}
