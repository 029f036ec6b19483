// SPDX-License-Identifier: GPL-3.0-or-later
#include "job/board_files.h"

#include "job/replay.h"
#include "report/board_table.h"
#include "report/wording.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <algorithm>
#include <filesystem>

namespace ohmo {
namespace {

// Every element that a netlist of a supply may hold, written in the ways that simulators allow.
constexpr const char* kWinder = R"(Winder brake supply
V1 L N SIN(0 325 50)
Rin L L2 5R
.model DX D(IS=1e-12
+ N=1.6 BV=1000)
.MODEL dz D(BV=5.6)
.model DS D(IS=3e-7)
.model QP PNP(BF=200)
D1 L2 HV DX ; bridge
D2 N HV DX
* a comment
C1 HV PG 100u IC=0
C2 VCC PG 10nF
L1 HV DRAIN 600u
L2 SEC 0 6u
K1 L1 L2 0.99
L3 A B 10m
L4 C D 10m
K2 L3 L4 1
M1 DRAIN GATE SRC SRC MX
R2 SRC PG R=0.33
R3 OUT 0 10MEG
R4 OUT 0 10m
D5 SEC OUT DS
D6 0 OUT dz
X1 OUT 0 SENSE divider
.subckt divider in gnd mid
Ra in mid 10k
X2 mid gnd half
Q1 mid in gnd QP
.ends
.subckt half a b
R1 a b 4.7k
.ends
X9 OUT SENSE missing
I1 OUT 0 1
R5 OUT
T1 A 0 B 0 Z0=50
.tran 1u 10m
.end
)";

const Part& of(const Board& board, const std::string& ref) { return board.part(test::at(board, ref)); }

TEST(SpiceImport, ReadsWhatABoardHas) {
    const auto read = import_board("winder.cir", kWinder);
    ASSERT_TRUE(read) << wording::problem(read.problem());
    const Board& b = read->board;
    EXPECT_EQ(b.name, "Winder brake supply");
    ASSERT_TRUE(b.mains);
    EXPECT_EQ(b.mains->volts, 230); // 325 V peak
    EXPECT_EQ(b.mains->hertz, 50);
    EXPECT_EQ(of(b, "Rin").value, "5R");
    EXPECT_EQ(of(b, "R2").value, "0R33");
    EXPECT_EQ(of(b, "R3").value, "10M");
    EXPECT_EQ(of(b, "R4").value, "0R01"); // m is milli
    EXPECT_EQ(of(b, "C1").kind, PartKind::Electrolytic);
    EXPECT_EQ(of(b, "C2").kind, PartKind::Ceramic);
    EXPECT_EQ(of(b, "C2").value, "10n");
    EXPECT_EQ(of(b, "D1").kind, PartKind::Diode);
    EXPECT_EQ(of(b, "D5").kind, PartKind::Schottky);
    EXPECT_EQ(of(b, "D6").kind, PartKind::Zener);
    EXPECT_EQ(of(b, "L1").kind, PartKind::Transformer);
    EXPECT_NEAR(of(b, "L1").turns.at("S1-S2") / of(b, "L1").turns.at("P1-P2"), 0.1, 1e-9); // inductance goes with turns squared
    EXPECT_EQ(of(b, "L3").kind, PartKind::Choke);
    EXPECT_FALSE(b.find_part("L2"));
    EXPECT_EQ(of(b, "X1.Q1").kind, PartKind::BjtPnp);
    EXPECT_EQ(b.net_name(of(b, "X1.Ra").net("2")), "SENSE");
    EXPECT_EQ(b.net_name(of(b, "X1.X2.R1").net("2")), "0"); // a subcircuit in a subcircuit
    std::vector<int> lines;
    for (const auto& ignored : read->ignored) lines.push_back(ignored.line);
    EXPECT_TRUE(std::is_sorted(lines.begin(), lines.end()));
    for (int line : {2, 20, 35, 36, 37, 38, 39})
        EXPECT_NE(std::find(lines.begin(), lines.end(), line), lines.end()) << line; // each is named
}

TEST(SpiceImport, RectifiedMainsAreTreatedAsCharged) {
    const auto read = import_board("winder.cir", kWinder);
    ASSERT_TRUE(read);
    EXPECT_FALSE(replay(job_of_board(read->board)).cold_unlocked); // though nothing says which capacitor is the bulk one
}

TEST(SpiceImport, NonsenseIsRefusedWithTheReason) {
    EXPECT_EQ(import_board("a.cir", "").problem().kind, ProblemKind::MissingField);
    EXPECT_EQ(import_board("a.cir", "title only\n").problem().kind, ProblemKind::MissingField);
    EXPECT_EQ(import_board("a.doc", kWinder).problem().kind, ProblemKind::Usage);
    EXPECT_EQ(import_board("a.cir", "x\n*@ {\"part\": {\n").problem().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(import_board("a.cir", "x\nR1 a b 1k\nR1 b c 1k\n").problem().kind, ProblemKind::DuplicateRef);
    std::string laughs = "x\nX1 a b s0\n"; // ten of ten of ten …
    for (int i = 0; i < 12; ++i) {
        laughs += ".subckt s" + std::to_string(i) + " p q\n";
        for (int k = 0; k < 10; ++k) {
            const std::string n = std::to_string(k);
            laughs += i == 11 ? "R" + n + " p q 1k\n" : "X" + n + " p q s" + std::to_string(i + 1) + "\n";
        }
        laughs += ".ends\n";
    }
    EXPECT_EQ(import_board("a.cir", laughs).problem().kind, ProblemKind::OutOfRangeValue);
    EXPECT_TRUE(
        import_board("a.cir", "x\nX1 a b loop\n.subckt loop p q\nX2 p q loop\nR1 p q 1k\n.ends\n")); // into itself: no end without care
}

TEST(SpiceImport, WhatWasExportedComesBackAsItWas) {
    for (const auto& file : std::filesystem::directory_iterator(test::data() / "demo")) {
        const auto loaded = test::reader().load(RealDisk(), file.path());
        ASSERT_TRUE(loaded);
        const Board board = replay(loaded->job).board;
        const auto again = import_board("x.cir", board_as_spice(board, loaded->job.unit));
        ASSERT_TRUE(again) << file.path() << wording::problem(again.problem());
        EXPECT_EQ(again->board, board) << file.path();
        const auto job = test::reader().parse(job_of_board(again->board).text()); // and is a valid job
        ASSERT_TRUE(job) << wording::problem(job.problem());
        EXPECT_EQ(job->job.board, board);
    }
}

TEST(BoardTable, IsForPeople) {
    const auto text = board_as(test::demo_board(), Unit{"Rope braider", "", "", "", "", {}}, "x.md");
    ASSERT_TRUE(text);
    EXPECT_NE(text->find("# Rope braider"), std::string::npos);
    EXPECT_NE(text->find("| C5 |"), std::string::npos);
    EXPECT_NE(text->find("| +24V | 0V | 24 V"), std::string::npos);
    EXPECT_FALSE(board_as(test::demo_board(), Unit{}, "x.doc"));
}

} // namespace
} // namespace ohmo
