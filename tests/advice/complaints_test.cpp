// SPDX-License-Identifier: GPL-3.0-or-later
// What a customer's words alone ask for, as a technician hears them. Common practice, no source (bench guide, "what live symptoms mean").
#include "support/demo.h"

#include "board/roles.h"
#include "damage/behaviour.h"

#include <gtest/gtest.h>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const std::vector<const char*> kDemos = {"rb6-fresh",  "gl1-adapter",      "sw3-flyback-integrated",
                                         "fd1-linear", "tl12-half-bridge", "bd2-self-oscillating"};

std::shared_ptr<const Analysis> told(const std::string& board, const std::string& word) {
    Entry e;
    e.act = Do::Symptom;
    e.saw = word;
    return analyse(discharged(board).with(e));
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
