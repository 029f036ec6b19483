// SPDX-License-Identifier: GPL-3.0-or-later
// What a customer's words alone ask for, as a technician hears them. Common practice, no source (bench guide, "what live symptoms mean").
#include "support/demo.h"

#include "belief/belief.h"
#include "board/roles.h"
#include "damage/behaviour.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const std::vector<const char*> kDemos = {"rb6-fresh",  "gl1-adapter",      "sw3-flyback-integrated",
                                         "fd1-linear", "tl12-half-bridge", "bd2-self-oscillating"};

std::shared_ptr<const Analysis> told(const std::string& board, const std::string& word) {
    return analyse(discharged(board).with(said(word)));
}

// Chances of all faults that alone make the unit run so.
double together(const Analysis& a, Running running) {
    BehaviourModel model(a.replay.board, *a.replay.roles);
    double sum = 0;
    for (const auto& b : a.assessment.parts)
        for (const auto& [mode, chance] : b.modes)
            if (model.judge({{b.part, mode, {}}}).running == running) sum += chance;
    return sum;
}

} // namespace

TEST(Complaints, AnOutputThatIsTooHighIsTheLoopOrAPassElement) {
    for (const char* board : {"rb6-fresh", "gl1-adapter", "sw3-flyback-integrated", "fd1-linear", "tl12-half-bridge"}) {
        const auto high = told(board, "high-output"), weak = told(board, "weak-under-load");
        EXPECT_GT(together(*high, Running::High), 5 * together(*weak, Running::High)) << board;
        if (std::string(board) != "tl12-half-bridge")
            EXPECT_GT(together(*high, Running::High), 0.5) << board; // there it is a chip's divider: seldom
        EXPECT_LT(together(*high, Running::Weak), together(*weak, Running::Weak)) << board;
    }
}

// Also where a chip regulates, whatever its stage is called: through from input to output it shorts no rail.
TEST(Complaints, ARegulatorThatIsThroughGivesTooMuch) {
    Entry d = act(Do::Discharge, {});
    d.value = 0.2;
    const auto a = analyse(foreign("strain-amplifier").with(d).with(said("high-output")));
    const Board& b = a->replay.board;
    EXPECT_EQ(BehaviourModel(b, *a->replay.roles).judge(faults(b, {"U1:short"})).running, Running::High);
    EXPECT_GT(bad(*a, "U1") + bad(*a, "U2") + bad(*a, "U3"), 0.5);
}

TEST(Complaints, WhatComesAndGoesIsNothingBrokenForGood) {
    for (const char* board : kDemos) {
        const auto comes = told(board, "comes-and-goes"), dead = told(board, "dead");
        EXPECT_LT(together(*comes, Running::BlowsFuse), 0.35 * together(*dead, Running::BlowsFuse)) << board;
        EXPECT_LT(together(*comes, Running::NoStart), together(*dead, Running::NoStart)) << board;
    }
}

TEST(Complaints, HumIsTheReservoirWhineAnyDryCapacitor) {
    const auto hum = told("fd1-linear", "hum"), whine = told("fd1-linear", "whine");
    const auto ratio = [](const Analysis& a) { return bad(a, "C2") / bad(a, "C5"); };
    EXPECT_GT(ratio(*hum), 1.2 * ratio(*whine));
}

TEST(Complaints, AFaultOfTheLoadAsksForNoneOnTheBoard) {
    for (const char* board : kDemos) {
        const auto load = told(board, "load-fault"), low = told(board, "low-output");
        EXPECT_GT(load->assessment.supply_good, 3 * low->assessment.supply_good) << board;
        EXPECT_LT(load->assessment.unexplained, 0.05) << board;
    }
}

// Whether the socket is live is worth a minute for a dead unit, and none for one that hums or gives too much.
TEST(Complaints, TheWayInIsAskedForWhereNothingComesOut) {
    const auto bits = [](const Analysis& a, std::string_view check) {
        for (const auto& ask : a.triage.asks)
            if (ask.check->id == check) return ask.bits;
        return -1.0;
    };
    for (const char* board : {"rb6-fresh", "fd1-linear"}) {
        const double worth = told(board, "dead")->replay.board.practice().worth_asking;
        EXPECT_GT(bits(*told(board, "dead"), "socket"), worth) << board;
        for (const char* word : {"high-output", "hum", "ticking"})
            EXPECT_LT(bits(*told(board, word), "socket"), worth) << board << " " << word;
        EXPECT_GT(bits(*told(board, "comes-and-goes"), "lead-live"), bits(*told(board, "hum"), "lead-live")) << board;
    }
}

// Behind a switch that is through the fuse goes, and the unit is as dead as with the fuse alone open; a shorted leg of an output bridge is
// heard as well as a shorted switch of the supply.
TEST(Complaints, AShortedSwitchIsDeadAndLoud) {
    const auto brings = [](const Analysis& a, const char* ref, FaultMode mode) {
        const auto& belief = *a.assessment.belief;
        double most = 0;
        for (std::size_t u = 0; u < belief.model().units.size(); ++u) {
            const auto& unit = belief.model().units[u];
            for (std::size_t m = 1; m < unit.modes.size(); ++m)
                if (unit.part == at(a.replay.board, ref) && unit.modes[m].fault.mode == mode)
                    most = std::max(most, belief.complaints().explains[u][m].front());
        }
        return most;
    };
    for (const auto& [name, ref] : {std::pair{"rb6-fresh", "Q1"}, {"tl12-half-bridge", "Q2"}, {"bd2-self-oscillating", "Q1"}}) {
        const auto dead = told(name, "dead");
        EXPECT_GT(brings(*dead, ref, FaultMode::Short), 0.9 * brings(*dead, "F1", FaultMode::Open)) << name;
    }
    for (const auto& [name, ref] :
         {std::pair{"rb6-fresh", "Q1"}, {"tl12-half-bridge", "Q2"}, {"fc1-inverter", "Q1"}, {"fc1-inverter", "Q4"}}) {
        const auto bang = told(name, "bang");
        EXPECT_EQ(brings(*bang, ref, FaultMode::Short), shipped_practice().bang_when_violent) << name << " " << ref;
    }
    EXPECT_EQ(brings(*told("rb6-fresh", "bang"), "C8", FaultMode::Dry), shipped_practice().bang_otherwise);
}

// Whatever is said, the answer is one: chances are chances, and where the supply is complained of there is something to do next.
TEST(Complaints, EveryWordIsAnswered) {
    const auto& table = shipped_practice().symptoms;
    for (const char* board : {"fd1-linear", "sw3-flyback-integrated"})
        for (const auto& [word, told_by] : table) {
            const auto a = told(board, word);
            const auto& s = a->assessment;
            EXPECT_GE(s.unexplained, 0) << board << " " << word;
            EXPECT_GE(s.supply_good, 0) << board << " " << word;
            EXPECT_LE(s.unexplained + s.supply_good, 1 + 1e-9) << board << " " << word;
            for (const auto& part : s.parts) EXPECT_TRUE(part.bad >= 0 && part.bad <= 1 + 1e-9) << board << " " << word;
            EXPECT_FALSE(a->next.acts.empty()) << board << " " << word;
        }
}

// A technician may edit the tables: a word that goes with one behaviour alone, or none that is ever misjudged, leaves chances.
TEST(Complaints, EditedTablesLeaveChances) {
    for (const bool never_misjudged : {false, true}) {
        Job job = discharged("fd1-linear");
        auto practice = std::make_shared<Practice>(job.board.practice());
        auto& row = practice->symptoms.find("high-output")->second;
        row.by_state = {0, 0, 0, 0, 1, 0, 0};
        row.loosely = 0;
        if (never_misjudged) practice->misjudged_behaviour = 0;
        job.board.edited_practice = practice;
        const auto a = analyse(job.with(said("high-output")));
        double sum = 0;
        for (const auto& part : a->assessment.parts) {
            ASSERT_TRUE(std::isfinite(part.bad));
            sum += part.bad;
        }
        EXPECT_GT(sum, 0.5);
        EXPECT_TRUE(std::isfinite(a->assessment.unexplained) && std::isfinite(a->assessment.supply_good));
    }
}
