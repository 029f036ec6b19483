// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/text.h"
#include "job/bench_line.h"
#include "job/parts_rows.h"
#include "job/trace_line.h"
#include "job/traced.h"
#include "report/wording.h"
#include "support/demo.h"

#include <gtest/gtest.h>

namespace ohmo {
namespace {

Entry line(const Job& job, const std::string& text) {
    const auto entry = parse_bench_line(bench_context(replay(job), test::reader().vocabulary()), text);
    EXPECT_TRUE(entry) << text << ": " << (entry ? "" : wording::problem(entry.problem()));
    return entry ? *entry : Entry{};
}

ProblemKind refused(const Job& job, const std::string& text) {
    const auto entry = parse_bench_line(bench_context(replay(job), test::reader().vocabulary()), text);
    EXPECT_FALSE(entry) << text;
    return entry ? ProblemKind::Cancelled : entry.problem().kind;
}

Job lines(Job job, const std::vector<std::string>& texts) {
    for (const auto& text : texts) {
        Entry e = line(job, text);
        e.at = 1772442840 + static_cast<Seconds>(job.journal.size());
        job = job.with(e);
    }
    return job;
}

Job empty() {
    const auto job = test::reader().parse(
        R"({"ohmotrace": 1, "board": {"name": "", "mains": {"volts": 230}, "rails": [], "parts": []}, "journal": []})");
    EXPECT_TRUE(job);
    return job->job;
}

std::vector<std::string> strangers_lines() { return test::traced_lines("df3-two-switch-forward"); }

TEST(TraceLine, ABoardThatNoBlueprintResembles) {
    Job job = lines(empty(), strangers_lines());
    const auto now = replay(job);
    EXPECT_EQ(now.board.parts.size(), 42u);
    EXPECT_EQ(now.board.rails.size(), 2u);
    EXPECT_TRUE(open_ends(now.board).empty());
    EXPECT_GE(now.roles->hv, 0);
    EXPECT_EQ(now.board.net_name(now.roles->hv), "HV");
    for (const auto& part : now.board.parts) EXPECT_FALSE(part.stage.empty()) << part.ref;
    // It comes back from its file, and is judged like any other.
    const auto again = test::reader().parse(job.text());
    ASSERT_TRUE(again);
    EXPECT_EQ(replay(again->job).board, now.board);
    job = lines(job, {"dead", "F1 open"});
    const auto a = test::analyse(job);
    EXPECT_EQ(a->replay.board.part(a->assessment.parts.front().part).ref, "F1");
    EXPECT_FALSE(a->next.acts.empty());
}

TEST(TraceLine, AnEmptyBoardIsNeverGood) {
    const auto a = test::analyse(empty());
    EXPECT_EQ(a->assessment.supply_good, 0);
    EXPECT_EQ(a->assessment.unexplained, 1);
    EXPECT_FALSE(a->next.stop);
    EXPECT_EQ(a->next.reason, StopReason::NotTraced);
}

TEST(TraceLine, SaysWhatItDoesNotUnderstand) {
    const Job job = lines(empty(), {"+ R1 4k7 HV VCC"});
    EXPECT_EQ(refused(job, "+ R1 1k HV VCC"), ProblemKind::DuplicateRef);
    EXPECT_EQ(refused(job, "= R2 1k"), ProblemKind::NoSuchPart);
    EXPECT_EQ(refused(job, "+ WX1 4k7"), ProblemKind::MissingField);
    EXPECT_EQ(refused(job, "+ R2 4k7 A B C"), ProblemKind::Usage);
    EXPECT_EQ(refused(job, "- R2"), ProblemKind::NoSuchPart);
    EXPECT_EQ(refused(job, "number R2 R3"), ProblemKind::NoSuchPart);
    EXPECT_EQ(refused(job, "rail +12V 0V"), ProblemKind::NoSuchNet);
    EXPECT_EQ(refused(job, "mains 2kV"), ProblemKind::OutOfRangeValue);
    EXPECT_EQ(refused(job, "= R1 X=HV"), ProblemKind::UnknownPin);
    EXPECT_EQ(refused(job, "= R1"), ProblemKind::Usage); // nothing said
    const Job named = lines(job, {"+ R7 1k MAINS HV"});
    EXPECT_EQ(line(named, "MAINS HV 230 V").act, Do::Read); // a net of that name
    for (const char* text : {"+", "=", "-", "+ R2", "net", "net HV", "double", "double R1", "rail", "mains", "number R1"})
        (void)parse_bench_line(bench_context(replay(job), test::reader().vocabulary()), text); // nothing falls over
}

TEST(TraceLine, ReadsMarkingsAndRatings) {
    const Job job = lines(empty(), {"+ R1 472 0.25W HV vcc", "+ C1 104 50V VCC 0V", "+ U1 controller 16V 10V VCC=VCC GND=0V DRV=G",
                                    "= R1 103", "double R1 R2 2=G"});
    const auto board = replay(job).board;
    EXPECT_EQ(board.part(0).value, "10k");
    EXPECT_EQ(board.part(0).watts, 0.25);
    EXPECT_EQ(board.part(1).value, "100n");
    EXPECT_EQ(board.part(1).volts, 50);
    EXPECT_EQ(board.part(2).value, "16V 10V");
    EXPECT_EQ(board.part(3).value, "10k");
    EXPECT_EQ(board.net_name(board.part(3).net("2")), "G");
    EXPECT_EQ(board.net_name(board.part(3).net("1")), "HV");
}

// What people call a part is understood as its kind.
TEST(TraceLine, TakesWordsOfTheTrade) {
    const Job job = test::demo("rb6-fresh");
    const auto kind = [&](const char* line) {
        const auto entry = parse_trace_line(job.board, split_words(line));
        EXPECT_TRUE(entry && *entry) << line;
        if (!entry || !*entry) return std::pair(PartKind::Track, std::string());
        const auto& edit = std::get<PartEdit>((*entry)->edits.front());
        return std::pair(edit.kind.value_or(PartKind::Track), edit.value.value_or(""));
    };
    EXPECT_EQ(kind("+ Q77 npn 40V 0.5A C=HV B=N1 E=PGND").first, PartKind::BjtNpn);
    EXPECT_EQ(kind("+ SCR7 400V 12A HV PGND N1").first, PartKind::Thyristor);
    EXPECT_EQ(kind("+ R77 fusible 10R HV N1").first, PartKind::FusibleResistor);
    EXPECT_EQ(kind("+ LED7 A=HV K=N1"), std::pair(PartKind::Diode, std::string("LED")));
    EXPECT_EQ(kind("+ D77 led HV N1"), std::pair(PartKind::Diode, std::string("LED")));
    EXPECT_EQ(kind("+ C77 100n +77V 0V").first, PartKind::Ceramic); // the rail's name is no value
    EXPECT_EQ(kind("+ C77 2n2 1kV HV N1").first, PartKind::Ceramic);
    EXPECT_EQ(kind("+ C77 47u +77V 0V").first, PartKind::Electrolytic);
    EXPECT_EQ(kind("+ F77 4A HV N1"), std::pair(PartKind::Fuse, std::string("4A")));
}

TEST(Traced, EntriesFollowTheirPartsAndNets) {
    Job job = lines(empty(), {"+ R1 4k7 HV N7", "+ C1 47u N7 0V", "R1 ohm 4k7", "HV N7 ohm 4k7"});
    job = lines(job, {"number R1 R12", "net N7 VCC", "R12 fine"});
    const auto now = replay(job);
    ASSERT_EQ(now.evidence.observations.size(), 3u);
    EXPECT_EQ(now.evidence.observations[0].query.black, *now.board.find_net("VCC"));
    EXPECT_EQ(now.evidence.observations[1].query.black, *now.board.find_net("VCC"));
    EXPECT_EQ(now.evidence.observations[2].part, *now.board.find_part("R12"));
    ASSERT_TRUE(test::reader().parse(job.text()));
}

TEST(Traced, WhatIsTakenBackNeverWas) {
    Job job = lines(empty(), {"+ R1 4k7 HV VCC", "+ C1 47u VCC 0V", "number R1 R2"});
    Entry back;
    back.act = Do::Retract;
    back.target = 2;
    job = lines(job.with(back), {"number R1 R3"});
    EXPECT_TRUE(replay(job).board.find_part("R3"));
    EXPECT_FALSE(replay(job).board.find_part("R2"));
    ASSERT_TRUE(test::reader().parse(job.text())); // entries are checked against the board of their time
    back.target = 0;
    job = job.with(back); // the part goes, and what was said of it says nothing any more
    EXPECT_EQ(replay(job).board.parts.size(), 1u);
    EXPECT_TRUE(test::reader().parse(job.text()));
}

TEST(Traced, CorrectsABlueprint) {
    Job job = test::demo("rb6-fresh");
    const auto before = replay(job).board;
    const auto& part = before.part(test::at(before, "R20"));
    job = lines(job, {"= R20 1k2", "- " + before.parts.back().ref});
    const auto now = replay(job);
    EXPECT_EQ(now.board.parts.size(), before.parts.size() - 1);
    EXPECT_EQ(now.board.part(*now.board.find_part("R20")).value, "1k2");
    EXPECT_EQ(now.board.part(*now.board.find_part("R20")).pins.size(), part.pins.size());
}

TEST(Traced, BadStepsInAFileAreNamed) {
    const auto out = test::reader().parse(R"({"ohmotrace": 1, "board": {"parts": []}, "journal": [
 {"at": "2026-03-02T09:14:00Z", "do": "trace", "part": "R1", "kind": "resistor", "value": "4k7", "pins": {"1": "A", "2": "B"}},
 {"at": "2026-03-02T09:15:00Z", "do": "trace", "steps": [{"part": "R2", "kind": "resistor"}, {"part": "R3", "kind": "riddle"}]},
 {"at": "2026-03-02T09:15:00Z", "do": "trace", "from": "R1", "to": "R2.1", "saw": "joined"}]})");
    ASSERT_FALSE(out);
    ASSERT_GE(out.problems().size(), 2u);
    EXPECT_EQ(out.problems()[0].place, "/journal/1/steps/1/kind");
    EXPECT_EQ(out.problems()[0].line, 3);
    EXPECT_EQ(out.problems()[1].place, "/journal/2/from");
}

TEST(PartsRows, SpreadsheetsComeInAndGoOut) {
    const Board board = replay(lines(empty(), strangers_lines())).board;
    const auto rows = parse_parts_rows(Board{}, parts_csv(board));
    ASSERT_TRUE(rows);
    EXPECT_TRUE(rows->warnings.empty());
    const auto again = with_edits(Board{}, rows->edits);
    ASSERT_TRUE(again);
    ASSERT_EQ(again->parts.size(), board.parts.size());
    for (std::size_t i = 0; i < board.parts.size(); ++i) EXPECT_EQ(again->parts[i], board.parts[i]) << board.parts[i].ref;
}

TEST(PartsRows, BareRowsWithTabs) {
    const auto rows = parse_parts_rows(Board{}, "R1\t472\tHV\tVCC\nC1\t\t104\tVCC\t0V\nD1\t0V\tHV\nQ1\tmosfet\tHV\tG\tS\n");
    ASSERT_TRUE(rows) << wording::problem(rows.problem());
    const auto board = with_edits(Board{}, rows->edits);
    ASSERT_TRUE(board);
    EXPECT_EQ(board->part(0).value, "4k7");
    EXPECT_EQ(board->part(1).value, "100n");
    EXPECT_EQ(board->net_name(board->part(3).net("D")), "HV");
}

TEST(PartsRows, HeadingsOfOtherLists) {
    const auto rows = parse_parts_rows(Board{}, "Designator;Value;Footprint;1;2\nR1;4k7;0805;A;B\nR2;oops;0805;A;B\n");
    ASSERT_FALSE(rows);
    EXPECT_EQ(rows.problem().line, 3);
    const auto good = parse_parts_rows(Board{}, "Designator;Value;Footprint;1;2\nR1;4k7;0805;A;B\n");
    ASSERT_TRUE(good);
    ASSERT_EQ(good->warnings.size(), 1u);
    EXPECT_EQ(good->warnings[0].found, "Footprint");
}

} // namespace
} // namespace ohmo
