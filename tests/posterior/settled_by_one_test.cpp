// SPDX-License-Identifier: GPL-3.0-or-later
// What one reading or look settles on its own: each alone, the same once more, in pairs, and all at once. Common practice, no source.
#include "support/demo.h"

#include <gtest/gtest.h>

#include <map>
#include <set>

using namespace ohmo;
using namespace ohmo::test;

namespace {

struct Row {
    std::string board, part, what;
    std::vector<Entry> entries;
    double least = 0, most = 1; // of what is said of the part then
    bool twice = true;          // the same once more leaves no doubt
};

const char* const kFlyback = "rb6-fresh";
const char* const kLinear = "fd1-linear";
const char* const kRail = "rb6-rail";
const char* const kHalfBridge = "tl12-half-bridge";

Entry pins(Entry reading, const char* red, const char* black) {
    reading.pins = {red, black};
    return reading;
}
Entry farads(const std::string& part, double value) { return alone("farads", part, value); }
Entry esr(const std::string& part, double value) { return alone("esr", part, value); }
Entry ohms(const std::string& part, double value) { return alone("ohms", part, value); }
Entry open(const std::string& part) { return over(alone("ohms", part, 0)); }
std::vector<Entry> legs(const std::string& part, const std::vector<std::pair<const char*, const char*>>& ways, double volts) {
    std::vector<Entry> out;
    for (const auto& [anode, cathode] : ways) {
        out.push_back(pins(alone("diode", part, volts), anode, cathode));
        out.push_back(over(pins(alone("diode", part, 0), cathode, anode)));
    }
    return out;
}
Entry look(const std::string& part, const std::string& saw) { return act(Do::Look, part, saw); }

void electrolytic(std::vector<Row>& rows, const std::string& board, const std::string& ref, double c, double r) {
    const auto says = [&](const char* what, std::vector<Entry> entries, double least, double most, bool twice = true) {
        rows.push_back({board, ref, what, std::move(entries), least, most, twice});
    };
    says("under half its value", {farads(ref, 0.45 * c)}, 0.97, 1);
    says("3 nF", {farads(ref, 3e-9)}, 0.98, 1);
    says("ten times its ESR", {esr(ref, 10 * r)}, 0.97, 1);
    says("right, thirty times its ESR", {farads(ref, c), esr(ref, 30 * r)}, 0.98, 1);
    says("-18 %, ESR as it should be", {farads(ref, 0.82 * c), esr(ref, r)}, 0, 0.08);
    says("+10 %, ESR as it should be", {farads(ref, 1.1 * c), esr(ref, r)}, 0, 0.03);
    says("-10 %, ESR as it should be", {farads(ref, 0.9 * c), esr(ref, r)}, 0, 0.03);
    says("0.05 ohm", {ohms(ref, 0.05)}, 0.97, 1);
    says("vented", {look(ref, "vented")}, 0.9, 1, false);
    says("leaking", {look(ref, "leaking")}, 0.9, 1, false);
    says("bulged", {look(ref, "bulged")}, 0.85, 1, false);
    says("leaking, of the right capacitance", {look(ref, "leaking"), farads(ref, c)}, 0.8, 1, false);
    says("vented, of the right capacitance", {look(ref, "vented"), farads(ref, c)}, 0.8, 1, false);
}

std::vector<Row> all_rows() {
    std::vector<Row> rows;
    electrolytic(rows, kFlyback, "C16", 1000e-6, 0.045);
    electrolytic(rows, kHalfBridge, "C7", 47e-6, 0.4);
    const std::vector<Row> more = {
        {kFlyback, "C20", "under half its value", {farads("C20", 0.9e-3)}, 0.97, 1},
        {kFlyback, "C17", "leaking", {look("C17", "leaking")}, 0.9, 1, false},
        {kFlyback, "C18", "bulged", {look("C18", "bulged")}, 0.85, 1, false},
        {kRail, "C3", "0.3 ohm", {ohms("C3", 0.3)}, 0.98, 1},
        {kRail, "W1", "2 ohm", {ohms("W1", 2)}, 0.9, 1},
        {kRail, "C1", "ten times its ESR", {esr("C1", 0.7)}, 0.97, 1},
        {kHalfBridge, "F1", "open", {open("F1")}, 0.98, 1},
        {kFlyback, "F1", "open", {open("F1")}, 0.98, 1},
        {kFlyback, "F1", "black glass", {look("F1", "black-glass")}, 0.98, 1, false},
        {kFlyback, "F1", "0.2 ohm", {ohms("F1", 0.2)}, 0, 0.01},
        {kFlyback, "R18", "open", {open("R18")}, 0.9, 1},
        {kFlyback, "R9", "open", {open("R9")}, 0.9, 1},
        {kFlyback, "R12", "open", {open("R12")}, 0.9, 1},
        {kFlyback, "R10", "4 % high", {ohms("R10", 1040)}, 0, 0.01},
        {kFlyback, "R19", "4.5 % low", {ohms("R19", 9550)}, 0, 0.01},
        {kFlyback, "R20", "30 % high", {ohms("R20", 611)}, 0.8, 1},
        {kFlyback, "R2", "30 % high", {ohms("R2", 195e3)}, 0.8, 1},
        {kFlyback, "R22", "brown, reads right", {look("R22", "brown"), ohms("R22", 10e3)}, 0, 0.1, false},
        {kFlyback,
         "D6",
         "0.55 V one way",
         {pins(alone("diode", "D6", 0.55), "A", "K"), over(pins(alone("diode", "D6", 0), "K", "A"))},
         0,
         0.01},
        {kFlyback,
         "D3",
         "50 mV both ways",
         {pins(alone("diode", "D3", 0.05), "A", "K"), pins(alone("diode", "D3", 0.05), "K", "A")},
         0.97,
         1},
        {kFlyback,
         "BR1",
         "50 mV across a leg",
         {pins(alone("diode", "BR1", 0.05), "~1", "+"), pins(alone("diode", "BR1", 0.05), "+", "~1")},
         0.97,
         1},
        {kFlyback, "BR1", "0.55 V across each leg, over the other way",
         legs("BR1", {{"~1", "+"}, {"~2", "+"}, {"-", "~1"}, {"-", "~2"}}, 0.55), 0, 0.01},
        {kFlyback, "D7", "0.25 V one way", {pins(alone("diode", "D7", 0.25), "A", "K")}, 0, 0.02},
        {kFlyback, "Q1", "0.1 ohm", {pins(ohms("Q1", 0.1), "D", "S"), pins(ohms("Q1", 0.1), "S", "D")}, 0.98, 1},
        {kFlyback, "Q1", "6 ohm", {pins(ohms("Q1", 6), "D", "S"), pins(ohms("Q1", 6), "S", "D")}, 0.98, 1},
        {kFlyback,
         "Q1",
         "its body diode, gate open",
         {pins(alone("diode", "Q1", 0.5), "S", "D"), over(pins(alone("diode", "Q1", 0), "D", "S")), over(pins(ohms("Q1", 0), "G", "S")),
          over(pins(ohms("Q1", 0), "S", "G"))},
         0,
         0.02},
        {kLinear,
         "Q1",
         "both junctions",
         {pins(alone("diode", "Q1", 0.6), "B", "E"), pins(alone("diode", "Q1", 0.6), "B", "C"), over(pins(ohms("Q1", 0), "C", "E"))},
         0,
         0.02},
        {kLinear,
         "Q3",
         "both junctions",
         {pins(alone("diode", "Q3", 0.7), "B", "E"), pins(alone("diode", "Q3", 0.7), "B", "C"), over(pins(ohms("Q3", 0), "C", "E"))},
         0,
         0.02},
        {kLinear, "R1", "30 % high", {ohms("R1", 2860)}, 0.8, 1},
        {kFlyback, "J1", "1.2 ohm", {pins(ohms("J1", 1.2), "1", "1'")}, 0.9, 1},
        {kFlyback, "SW1", "2 ohm", {ohms("SW1", 2)}, 0.9, 1},
        {kFlyback, "C1", "below half its value", {farads("C1", 88e-9)}, 0.95, 1},
        {kFlyback, "RV1", "open", {open("RV1")}, 0, 0.01},
        {kFlyback, "U1", "a hole", {look("U1", "hole")}, 0.95, 1, false},
        {kFlyback, "U2", "burnt through", {look("U2", "burnt")}, 0.95, 1, false},
        {kFlyback, "OK1", "burnt through", {look("OK1", "burnt")}, 0.95, 1, false},
        {kFlyback, "C6", "burnt through", {look("C6", "burnt")}, 0.95, 1, false},
        {kFlyback, "C12", "a lead blown off", {look("C12", "blown-lead")}, 0.95, 1, false},
    };
    rows.insert(rows.end(), more.begin(), more.end());
    return rows;
}

void expect(const Row& row, const Analysis& said, const std::string& where) {
    const double now = bad(said, row.part);
    EXPECT_GE(now, row.least) << where << ": " << row.part << ", " << row.what;
    EXPECT_LE(now, row.most) << where << ": " << row.part << ", " << row.what;
}

} // namespace

TEST(SettledByOne, EachAlone) {
    for (const auto& row : all_rows()) expect(row, *analyse(with_all(discharged(row.board), row.entries)), row.board);
}

TEST(SettledByOne, OnceMoreNobodyDoubts) {
    for (const auto& row : all_rows()) {
        if (!row.twice) continue;
        const auto said = analyse(with_all(with_all(discharged(row.board), row.entries), row.entries));
        if (row.least > 0)
            EXPECT_GE(bad(*said, row.part), 0.995) << row.part << ", " << row.what;
        else
            EXPECT_LE(bad(*said, row.part), 0.01) << row.part << ", " << row.what;
    }
}

// Each with a few others of its board.
TEST(SettledByOne, InPairs) {
    const auto rows = all_rows();
    int pairs = 0;
    for (std::size_t i = 0; i < rows.size(); ++i)
        for (std::size_t further : {1, 5, 12}) {
            const auto &one = rows[i], &other = rows[(i + further) % rows.size()];
            if (one.board != other.board || one.part == other.part) continue;
            const auto said = analyse(with_all(with_all(discharged(one.board), one.entries), other.entries));
            expect(one, *said, "with " + other.part + ", " + other.what);
            expect(other, *said, "with " + one.part + ", " + one.what);
            ++pairs;
        }
    EXPECT_GT(pairs, 60);
}

// One row of each part.
TEST(SettledByOne, AllAtOnce) {
    std::map<std::string, Job> jobs;
    std::map<std::string, std::vector<Row>> taken;
    std::set<std::pair<std::string, std::string>> seen;
    for (const auto& row : all_rows()) {
        if (!seen.emplace(row.board, row.part).second) continue;
        const auto job = jobs.try_emplace(row.board, discharged(row.board)).first;
        job->second = with_all(job->second, row.entries);
        taken[row.board].push_back(row);
    }
    for (const auto& [name, rows] : taken) {
        const auto said = analyse(jobs.at(name));
        for (const auto& row : rows) expect(row, *said, "all at once");
    }
}

// A look that finds nothing moves the odds by less than three; what passes although it is bad stays as it was.
TEST(SettledByOne, WhatSaysLittle) {
    const auto odds = [](double p) { return p / (1 - p); };
    for (const char* ref : {"C16", "C20", "C8"}) {
        const double before = odds(bad(*analyse(discharged(kFlyback)), ref)),
                     after = odds(bad(*analyse(discharged(kFlyback).with(look(ref, "fine"))), ref));
        EXPECT_LT(after, before);
        EXPECT_GT(after, before / 3) << ref;
    }
    const Job start = discharged(kFlyback);
    const double weak = bad(*analyse(start), "OK1"), turns = bad(*analyse(start), "T1");
    const auto passes = analyse(start.with(pins(alone("diode", "OK1", 1.1), "A", "K")).with(over(pins(ohms("OK1", 0), "C", "E"))));
    EXPECT_LE(bad(*passes, "OK1"), weak);
    EXPECT_GT(bad(*passes, "OK1"), 0.2 * weak);
    const auto wound = analyse(start.with(pins(ohms("T1", 0.75), "P1", "P2")));
    EXPECT_LE(bad(*wound, "T1"), turns);
    EXPECT_GT(bad(*wound, "T1"), 0.2 * turns);
}
