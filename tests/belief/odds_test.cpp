// SPDX-License-Identifier: GPL-3.0-or-later
// What a state weighs is summed by what differs from the best one and remembered: against the sum over every part, written out.
#include "belief/belief.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <cmath>

using namespace ohmo;
using namespace ohmo::belief;
using namespace ohmo::test;

namespace {

// ln of the chances of every part's mode at one age, leaves over all of their modes, and of what was read.
double written_out(const Belief& b, const IslandSearch& search, const State& state, double age) {
    const auto& units = search.island().units;
    double out = state.evidence;
    std::vector<double> chance;
    for (std::size_t i = 0; i < units.size(); ++i) {
        const auto u = static_cast<std::size_t>(units[i]);
        const auto stands_in = [&](int parent) {
            const int at = search.position(parent);
            return at >= 0 && search.enumerated(static_cast<std::size_t>(at)) ? state.mode[static_cast<std::size_t>(at)] : 0;
        };
        mode_chances(b.model().units[u], b.net().edges, b.net().into[u], age, stands_in, chance);
        const auto& direct = b.direct().ln[u];
        double all = 0;
        for (std::size_t m = 0; m < chance.size(); ++m) all += chance[m] * std::exp(direct[m]);
        out += search.enumerated(i) ? std::log(chance[state.mode[i]]) + direct[state.mode[i]] : std::log(all);
    }
    return out;
}

bool two_of_one_circle(const Belief& b, const IslandSearch& search, const State& state) {
    std::set<int> seen;
    for (std::size_t i = 0; i < state.mode.size(); ++i) {
        const int circle = b.net().circle[static_cast<std::size_t>(search.island().units[i])];
        if (circle >= 0 && state.mode[i] != 0 && search.enumerated(i) && !seen.insert(circle).second) return true;
    }
    return false;
}

} // namespace

TEST(Odds, AStateWeighsWhatItsPartsDo) {
    for (const Job& job :
         {discharged("rb6-fresh").with(said("dead")).with(over(read("ohms", "LS", "L1", 0))).with(read("ohms", "+5V", "0V", 0.9)),
          discharged("gl1-adapter").with(said("low-output")).with(read("ohms", "0V", "RES", 0.3))}) {
        const auto a = analyse(job);
        const Belief& b = *a->assessment.belief;
        const Ages ages = Ages::of(a->replay.board.practice());
        int compared = 0, together = 0;
        for (const auto& search : b.islands()) {
            if (search->seen().empty()) continue; // where nothing was read others may have brought something down
            for (const auto& state : search->states()) {
                if (two_of_one_circle(b, *search, *state)) continue;
                for (int age = 0; age < kAges; ++age)
                    EXPECT_NEAR(state->ln_all[age], written_out(b, *search, *state, ages.factor[static_cast<std::size_t>(age)]), 1e-9);
                ++compared;
                together += std::count_if(state->mode.begin(), state->mode.end(), [](auto m) { return m != 0; }) > 1 ? 1 : 0;
            }
        }
        EXPECT_GT(compared, 30);
        EXPECT_GT(together, 10) << "several faults at once, some of which bring others down";
    }
}
