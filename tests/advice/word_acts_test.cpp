// SPDX-License-Identifier: GPL-3.0-or-later
// Looks, substitutions and cooling: offered where they tell something, priced by the odds they are weighed by.
#include "advice/word_acts.h"

#include "belief/belief.h"
#include "readings/words.h"
#include "support/demo.h"

#include <cmath>
#include <numeric>
#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const Board& b = demo_board();

// A board on which this fault has half the chance: what a verdict of even odds leaves of it.
Assessment suspecting(const Fault& f, double bad) {
    static belief::Memory memory;
    static const auto belief = [] {
        Board often = b; // where a capacitor has dried out one time in eight
        auto practice = std::make_shared<Practice>(b.practice());
        practice->roots_a_unit = 1;
        often.edited_practice = practice;
        memory.board = std::make_shared<const Board>(often);
        memory.roles = std::make_shared<const BoardRoles>(find_roles(b));
        Evidence none;
        none.meters = {MeterProfile{}};
        return *belief::Belief::make(library(), none, memory, {});
    }();
    Assessment out;
    out.belief = belief;
    PartBelief part;
    part.part = f.part;
    part.bad = bad;
    part.leading = f;
    part.settled_cold = settled_cold(b, f);
    out.parts = {part};
    return out;
}

std::vector<NextAct> acts(const Fault& f, const Evidence& evidence, double bad = 0.5) {
    return word_acts(b, library(), suspecting(f, bad), evidence, 1e-6);
}

const NextAct* of(const std::vector<NextAct>& all, Act act) {
    const auto found = std::find_if(all.begin(), all.end(), [&](const NextAct& a) { return a.act == act; });
    return found == all.end() ? nullptr : &*found;
}

double entropy(double p) { return p > 0 ? -p * std::log2(p) : 0; }

} // namespace

// A reading spared is what a look is for: of a part that must be read anyhow, fine or not, it only comes first.
TEST(WordActs, WhatIsStillToBeReadCountsAgainstTheLook) {
    const auto after = [&](const char* suspect) {
        const auto all = acts(fault(b, suspect), {});
        const auto* look = of(all, Act::Look);
        EXPECT_NE(look, nullptr) << suspect;
        return look == nullptr ? -1 : look->after;
    };
    const double read = b.practice().minutes_read;
    EXPECT_LT(after("R4:open"), 0.1 * read) << "fine, it is good enough";
    EXPECT_GT(after("C5:dry"), 0.5 * read) << "a quarter of dead ones look perfect";
    EXPECT_LT(after("C5:dry"), read) << "bulged, it is bad enough";
}

TEST(WordActs, ALookIsWorthWhatItsOddsSay) {
    const Fault dry = fault(b, "C5:dry");
    const auto all = acts(dry, {});
    const auto* look = of(all, Act::Look);
    ASSERT_NE(look, nullptr);
    std::set<std::string> words = {"fine"};
    for (const auto& [mode, data] : library().kinds.at(PartKind::Electrolytic).modes)
        for (const auto& [word, chance] : data.looks) words.insert(word);
    // Straight from the definition: H(word) - sum p H(word | mode), by the odds of the modes.
    const auto chances = [&](const Fault* f) {
        std::vector<double> out;
        for (const auto& w : words) out.push_back(look_chance(b.practice(), library(), PartKind::Electrolytic, w, f));
        const double sum = std::accumulate(out.begin(), out.end(), 0.0);
        for (double& p : out) p /= sum;
        return out;
    };
    const auto assessment = suspecting(dry, 0.5);
    const auto& model = assessment.belief->model();
    std::vector<std::pair<double, std::vector<double>>> cases;
    for (int u : model.units_of[static_cast<std::size_t>(dry.part)]) {
        const auto& modes = model.units[static_cast<std::size_t>(u)].modes;
        for (std::size_t m = 0; m < modes.size(); ++m)
            cases.emplace_back(assessment.belief->mode(u, static_cast<int>(m)), chances(m > 0 ? &modes[m].fault : nullptr));
    }
    double bits = 0;
    for (std::size_t k = 0; k < words.size(); ++k) {
        double whole = 0;
        for (const auto& [p, c] : cases) {
            whole += p * c[k];
            bits -= p * entropy(c[k]);
        }
        bits += entropy(whole);
    }
    EXPECT_NEAR(look->bits, bits, 1e-9);
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
    EXPECT_GT(of(all, Act::Substitute)->bits, 0);
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
