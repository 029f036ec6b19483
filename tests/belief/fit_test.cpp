// SPDX-License-Identifier: GPL-3.0-or-later
// A fit is what its values say: nothing that a reading was once expected to show is kept when the values have moved on.
#include "belief/belief.h"
#include "belief/network.h"
#include "support/demo.h"
#include "support/journals.h"

#include <gtest/gtest.h>

#include <cmath>
#include <random>

using namespace ohmo;
using namespace ohmo::belief;
using namespace ohmo::test;

namespace {

// Every reading of the likeliest states of each island, as a network made afresh at the fitted values reads it.
void expect_what_its_values_say(const Analysis& analysis) {
    const auto& b = *analysis.assessment.belief;
    for (const auto& island : b.islands()) {
        if (island->seen().empty()) continue;
        std::size_t states = 0;
        for (const auto& state : island->states()) {
            if (!state->solved || state->values.empty() || ++states > 20) continue;
            State start; // far from what is known now: on the way many a reading leaves the end of the display
            start.mode = state->mode;
            for (const auto& u : island->prior_of(start.mode)) start.values.push_back(u.middle);
            const Fit fit = island->fit_of(start, 10);
            Network fresh(island->island().circuit, b.bench().out, b.bench().meters, fit.values);
            const Eigen::Map<const Eigen::VectorXd> at(fit.values.data(), static_cast<Eigen::Index>(fit.values.size()));
            for (std::size_t j = 0; j < island->seen().size(); ++j) {
                const auto& sight = island->seen()[j];
                const auto now = fresh.read(sight.place, &sight.shown, true);
                const double kept = fit.forecasts[j]->y + fit.forecasts[j]->slope.dot(at - *fit.point[j]);
                EXPECT_NEAR(kept, now.y, 0.1) << "entry " << sight.entry;
            }
        }
        EXPECT_GT(states, 0U);
    }
}

// However a state was reached, its readings together say no more for it than each by its own law would in the middle of it: what the touch
// leaves over has tails, a forecast may be blurred, and what an unknown is bent by costs something; nothing is gained by any of these.
void expect_no_more_than_their_own_laws(const Analysis& analysis) {
    std::size_t states = 0;
    for (const auto& island : analysis.assessment.belief->islands()) {
        double most = 0;
        for (const auto& sight : island->seen())
            most += std::log(std::exp(ln_student(0, sight.touch.noise)) + std::exp(ln_broad(sight.place.what)));
        for (const auto& state : island->states())
            if (state->solved && !island->seen().empty()) {
                ++states;
                EXPECT_LE(state->evidence, most);
            }
    }
    EXPECT_GT(states, 20U);
}

} // namespace

TEST(Fit, IsWhatItsValuesSayOnTheDemo) { expect_what_its_values_say(*analyse(demo("rb6-half-way"))); }

// What meters show and what they hardly would, on places drawn at random: fits that give up a step, slips, displays at their end.
TEST(Fit, NoReadingSaysMoreThanItsOwnLaw) {
    expect_no_more_than_their_own_laws(*analyse(demo("rb6-half-way")));
    expect_no_more_than_their_own_laws(*analyse(step_given_up()));
    std::mt19937 random(5);
    std::uniform_real_distribution<double> uniform(0, 1);
    for (const char* name : {"fc1-inverter", "cr8-buck", "rb6-fresh"}) {
        Job job = discharged(name);
        std::vector<std::string> nets;
        for (const auto& net : job.board.nets) nets.push_back(net);
        const auto any = [&] { return nets[random() % nets.size()]; };
        for (int k = 0; k < 8; ++k) {
            const std::string red = any(), black = any();
            if (red == black) continue;
            const bool diode = uniform(random) < 0.3;
            job = job.with(read(diode ? "diode" : "ohms", red.c_str(), black.c_str(),
                                diode ? uniform(random) * 2 : std::pow(10.0, uniform(random) * 7 - 1)));
        }
        expect_no_more_than_their_own_laws(*analyse(job));
    }
}

// An input that blocks at two volts: "over" stands at the end of the axis, where nothing seems to move it.
TEST(Fit, WhatStandsAtTheEndOfTheDisplayIsReadAgain) {
    Job job;
    job.has_board = true;
    job.board = board({"U1 controller - VCC=VDD GND=0V BST=BST FB=FB", "D1 schottky 30V A=VDD K=BST", "C1 ceramic 220n 1=BST 2=SW",
                       "R1 resistor 10k 1=FB 2=0V", "R2 resistor 1k2 1=VDD 2=0V", "R3 resistor 47 1=SW 2=0V", "C2 ceramic 1u 1=VDD 2=0V"});
    job.board.name = "blocks";
    expect_what_its_values_say(
        *analyse(with_all(job, {read("ohms", "VDD", "0V", 1138), over(read("diode", "BST", "VDD", 0)), read("diode", "VDD", "BST", 0.154),
                                read("ohms", "BST", "VDD", 230e3), read("ohms", "BST", "0V", 216e3)})));
}

TEST(Fit, IsWhatItsValuesSayOnABoardWithTwoSwitches) {
    expect_what_its_values_say(*analyse(with_all(
        foreign("sack-sewing"), {read("diode", "G2", "SN", 0.01), read("ohms", "P+", "G1", 164.4e3), read("ohms", "P-", "HS", 68.4e3),
                                 over(read("diode", "HS", "P-", 0)), over(read("ohms", "LIN", "L3", 0))})));
}
