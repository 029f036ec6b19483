// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/part_sheet.h"

#include "report/part_words.h"
#include "support/demo.h"

#include <algorithm>
#include <cmath>
#include <numbers>

using namespace ohmo;
using namespace ohmo::test;

namespace {

const PartTest* test_of(const PartSheet& sheet, Quantity what, const std::string& red = {}) {
    const auto found = std::find_if(sheet.tests.begin(), sheet.tests.end(),
                                    [&](const PartTest& t) { return t.what == what && (red.empty() || t.red == red); });
    return found == sheet.tests.end() ? nullptr : &*found;
}

bool tells(const PartTest& t, FaultMode mode) {
    return std::any_of(t.failures.begin(), t.failures.end(), [&](const PartTest::Failure& f) { return f.mode == mode; });
}

} // namespace

TEST(PartSheet, ASwitchIsTestedAcrossAndAtItsGate) {
    const auto a = analyse(discharged("rb6-fresh"));
    const auto sheet = part_sheet(*a, at(demo_board(), "Q1"));
    const auto* across = test_of(sheet, Quantity::Ohms, "D");
    ASSERT_NE(across, nullptr);
    EXPECT_EQ(across->black, "S");
    EXPECT_TRUE(across->alone.over) << "a sound one blocks";
    EXPECT_TRUE(tells(*across, FaultMode::Short));
    const auto* body = test_of(sheet, Quantity::Diode, "S");
    ASSERT_NE(body, nullptr);
    EXPECT_GT(body->alone.low, 0.3);
    EXPECT_LT(body->alone.high, 0.8) << "a silicon junction at a milliampere";
    for (const auto& t : sheet.tests) EXPECT_FALSE(t.read);
}

TEST(PartSheet, EachLegOfABridgeTellsItsShort) {
    const auto sheet = part_sheet(*analyse(discharged("rb6-fresh")), at(demo_board(), "BR1"));
    ASSERT_EQ(sheet.tests.size(), 8U);
    for (const auto& t : sheet.tests) EXPECT_TRUE(tells(t, FaultMode::Short)) << t.red << " " << t.black;
}

TEST(PartSheet, ReadsInPlaceAndLiftedAreJudgedByTheirOwnFigures) {
    const Job job = with_all(discharged("rb6-fresh"), {read_part("esr", "C5", 3.6)});
    auto sheet = part_sheet(*analyse(job), at(demo_board(), "C5"));
    const auto* esr = test_of(sheet, Quantity::Esr);
    ASSERT_TRUE(esr != nullptr && esr->read);
    EXPECT_FALSE(esr->read->alone);
    EXPECT_EQ(esr->against, Held::High);
    EXPECT_NE(wording::test_read(*esr).find("high"), std::string::npos);
    sheet = part_sheet(*analyse(with_all(job, {act(Do::Lift, "C5"), alone("esr", "C5", 0.3)})), at(demo_board(), "C5"));
    EXPECT_TRUE(test_of(sheet, Quantity::Esr)->read->alone);
    EXPECT_EQ(test_of(sheet, Quantity::Esr)->against, Held::Fits);
}

TEST(PartSheet, WhatWasReadOfTheOldPartIsNotOfTheNew) {
    const Job job = with_all(discharged("rb6-fresh"), {read_part("esr", "C5", 3.6), act(Do::Replace, "C5")});
    EXPECT_FALSE(test_of(part_sheet(*analyse(job), at(demo_board(), "C5")), Quantity::Esr)->read);
}

// tan(delta) = 2 pi f C ESR (any handbook): of 100 uF with 3.6 ohm at the meter's frequency.
TEST(PartSheet, LossAngleFromWhatWasRead) {
    const Job job = with_all(discharged("rb6-fresh"), {read_part("esr", "C5", 3.6), read_part("farads", "C5", 31e-6)});
    const auto a = analyse(job);
    const auto sheet = part_sheet(*a, at(demo_board(), "C5"));
    ASSERT_TRUE(sheet.loss && sheet.loss_usual);
    EXPECT_NEAR(*sheet.loss, 2 * std::numbers::pi * a->replay.evidence.meters.front().esr_hertz * 31e-6 * 3.6, 1e-9);
    EXPECT_LT(*sheet.loss_usual, *sheet.loss);
    EXPECT_TRUE(wording::part_judgement(*a, sheet).find("bad") != std::string::npos);
    const auto reasons = wording::part_reasons(*a, sheet);
    EXPECT_TRUE(std::any_of(reasons.begin(), reasons.end(), [](const auto& r) { return r.text.find("31") != std::string::npos; }));
}

TEST(PartSheet, SistersAreOfTheSameSortAndShowTheSameTest) {
    const Job job = discharged("tm4-ac-fed-split");
    const Board& b = job.board;
    const int one = at(b, "C2"), other = at(b, "C3");
    const auto sheet = part_sheet(*analyse(job.with(read_part("esr", "C3", 0.05))), one);
    EXPECT_NE(std::find(sheet.sisters.begin(), sheet.sisters.end(), other), sheet.sisters.end());
    const auto* esr = test_of(sheet, Quantity::Esr);
    ASSERT_NE(esr, nullptr);
    ASSERT_FALSE(esr->sisters.empty());
    EXPECT_NE(wording::test_sisters(b, *esr).find(b.part(other).ref), std::string::npos);
}

TEST(PartSheet, EveryPartOfEveryDemoHasOne) {
    for (const char* name : {"rb6-fresh", "cr8-buck", "fc1-inverter", "tl12-half-bridge"}) {
        const auto a = analyse(discharged(name));
        for (int p = 0; p < static_cast<int>(a->replay.board.parts.size()); ++p) {
            const auto sheet = part_sheet(*a, p);
            for (const auto& t : sheet.tests) {
                EXPECT_LE(t.alone.low, t.alone.high);
                EXPECT_FALSE(wording::test_name(t).empty());
            }
            EXPECT_FALSE(wording::part_reasons(*a, sheet).empty());
        }
    }
}
