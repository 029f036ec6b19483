// SPDX-License-Identifier: GPL-3.0-or-later
// Rules of the bench guide, section 8 (common practice, no single source).
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

StockItem item(const std::string& kind_value, std::optional<double> volts = {}, std::optional<double> celsius = 105,
               Origin origin = Origin::New) {
    StockItem s;
    const auto space = kind_value.find(' ');
    s.part.kind = *kind_from_name(kind_value.substr(0, space));
    s.part.value = kind_value.substr(space + 1);
    s.part.volts = volts;
    s.part.celsius = celsius;
    s.origin = origin;
    s.count = 1;
    s.nominal = *nominal_value(s.part);
    return s;
}

const RuleCheck* check(const std::vector<RuleCheck>& all, Rule rule) {
    for (const auto& c : all)
        if (c.rule == rule) return &c;
    return nullptr;
}

bool fits(const char* ref, const StockItem& s, const School& school = {}) {
    return passes(check_substitute(shipped_practice(), demo_board().part(at(demo_board(), ref)), s, school));
}

const PlanLine* line(const Plan& plan, const char* ref) {
    for (const auto& l : plan.lines)
        if (demo_board().part(l.part).ref == ref) return &l;
    return nullptr;
}

} // namespace

TEST(Substitute, VoltageNeverLowerHigherIsFine) {
    EXPECT_TRUE(fits("C5", item("electrolytic 100u", 400)));
    EXPECT_TRUE(fits("C5", item("electrolytic 120u", 450)));
    EXPECT_FALSE(fits("C5", item("electrolytic 100u", 350)));
    EXPECT_FALSE(fits("C5", item("electrolytic 100u")));
}

TEST(Substitute, TemperatureNotLower) { EXPECT_FALSE(fits("C5", item("electrolytic 100u", 400, 85))); }

TEST(Substitute, CapacitanceNeverLessMoreIsTolerated) {
    EXPECT_FALSE(fits("C5", item("electrolytic 47u", 400)));
    EXPECT_TRUE(fits("C5", item("electrolytic 150u", 400)));
    EXPECT_FALSE(fits("C5", item("electrolytic 330u", 400))); // inrush
}

TEST(Substitute, ImpedanceSchoolNeverInAMainsReservoir) {
    School school;
    school.capacitors = CapacitorSchool::ImpedanceFirst;
    auto small = item("electrolytic 470u", 50);
    small.part.esr = 0.015;
    EXPECT_TRUE(fits("C16", small, school)); // 1000 uF smoothing at the converter's frequency
    EXPECT_FALSE(fits("C16", small));
    auto bulk = item("electrolytic 47u", 400);
    bulk.part.esr = 0.05;
    EXPECT_FALSE(fits("C5", bulk, school));
}

TEST(Substitute, FuseLikeForLike) {
    EXPECT_TRUE(fits("F1", item("fuse T2A", 250)));
    EXPECT_FALSE(fits("F1", item("fuse T3.15A", 250)));
    EXPECT_FALSE(fits("F1", item("fuse F2A", 250)));
    EXPECT_FALSE(fits("F1", item("fuse T2A", 125)));
    EXPECT_FALSE(fits("F1", item("fuse T2A", 250, {}, Origin::Salvaged)));
}

TEST(Substitute, KindsDoNotMix) {
    EXPECT_FALSE(fits("R12", item("resistor 10R"))); // a fusible resistor by an ordinary one
    const auto checks = check_substitute(shipped_practice(), demo_board().part(at(demo_board(), "R12")), item("resistor 10R"), {});
    EXPECT_FALSE(check(checks, Rule::SameKind)->pass);
}

TEST(Substitute, SilentValueStaysToBeOrdered) {
    Part unknown = part("R1 resistor - 1=A 2=B");
    EXPECT_FALSE(passes(check_substitute(shipped_practice(), unknown, item("resistor 10k"), {})));
    EXPECT_NE(check(check_substitute(shipped_practice(), unknown, item("resistor 10k"), {}), Rule::TypeKnown), nullptr);
}

TEST(Plan, HalfWayDemo) {
    const auto a = analyse(demo("rb6-half-way"));
    for (const char* ref : {"C5", "Q1", "R9", "F1", "U1"}) ASSERT_NE(line(a->plan, ref), nullptr) << ref;
    // Consequence rule: gate parts go with the switch although they read fine.
    const auto good = analyse(demo("rb6-half-way").with(alone("ohms", "R8", 22)));
    EXPECT_LT(bad(*good, "R8"), 0.05);
    ASSERT_NE(line(good->plan, "R8"), nullptr);
    EXPECT_EQ(line(good->plan, "R8")->reason, ReplaceReason::Consequence);
    EXPECT_TRUE(line(a->plan, "C5")->polarity);
    EXPECT_FALSE(line(a->plan, "F1")->polarity);
    for (const auto& l : a->plan.lines)
        if (l.choice) EXPECT_TRUE(passes(l.checks)) << demo_board().part(l.part).ref;
    EXPECT_EQ(line(a->plan, "C16"), nullptr); // nothing needless
}

// The base resistors and pull-downs carried the surge; the 330 kilohm that start it lie across what is shorted.
// What was put in is done, and asks for no soldering beside; what is still to come is neither.
TEST(Plan, WhatWasReplacedIsDone) {
    const Job job = demo("rb6-half-way");
    const auto before = analyse(job), after = analyse(job.with(act(Do::Replace, "F1")));
    ASSERT_NE(line(before->plan, "F1"), nullptr);
    EXPECT_FALSE(line(before->plan, "F1")->done);
    ASSERT_NE(line(after->plan, "F1"), nullptr);
    EXPECT_TRUE(line(after->plan, "F1")->done);
    for (const auto& l : after->plan.lines) EXPECT_FALSE(l.resolder) << after->replay.board.part(l.part).ref;
    EXPECT_EQ(std::count_if(after->plan.lines.begin(), after->plan.lines.end(), [](const PlanLine& l) { return l.done; }), 1);
}

TEST(Plan, StartResistorsDoNotGoWithTheSwitch) {
    const auto a = analyse(discharged("bd2-self-oscillating").with(alone("ohms", "Q2", 0.2)).with(alone("ohms", "Q1", 0.2)));
    std::set<std::string> with_it;
    for (const auto& l : a->plan.lines)
        if (l.reason == ReplaceReason::Consequence) with_it.insert(a->replay.board.part(l.part).ref);
    for (const char* ref : {"R4", "R5", "R7", "R8"}) EXPECT_TRUE(with_it.contains(ref)) << ref;
    for (const char* ref : {"R6", "R9"}) EXPECT_FALSE(with_it.contains(ref)) << ref;
}

TEST(Plan, SchoolsWiden) {
    const auto a = analyse(demo("rb6-half-way"));
    const auto stock = parse_stock(*RealDisk().read(data() / "parts-drawer.csv", 1 << 20), "x");
    School wet;
    wet.extent = Extent::EverythingWet;
    const auto all = make_plan(a->replay.board, find_roles(a->replay.board), a->assessment, {}, {}, *stock, wet);
    int electrolytics = 0;
    for (const auto& l : all.lines) electrolytics += demo_board().part(l.part).kind == PartKind::Electrolytic;
    EXPECT_EQ(electrolytics, 8);
    EXPECT_EQ(line(all, "C16")->stage, 2); // staged: the secondary waits until the primary runs
    EXPECT_EQ(line(all, "C5")->stage, 1);
}

TEST(Plan, DrawerRunsOut) {
    const auto a = analyse(demo("rb6-half-way"));
    const auto empty = make_plan(a->replay.board, find_roles(a->replay.board), a->assessment, {}, {}, {}, {});
    EXPECT_EQ(empty.to_order, static_cast<int>(empty.lines.size()));
    EXPECT_DOUBLE_EQ(empty.stock_cost, 0);
}

TEST(School, Words) {
    EXPECT_EQ(parse_school("wet,impedance,at-once")->extent, Extent::EverythingWet);
    EXPECT_FALSE(parse_school("wet,at-once")->stage_the_spend);
    EXPECT_EQ(parse_school("everything").problem().kind, ProblemKind::Usage);
}

TEST(Stock, ReadsQuotedFieldsAndNamesBadLines) {
    const auto good = parse_stock("id,kind,value,count,price\n\"A, 1\",resistor,4k7,3,0.02\n", "s.csv");
    ASSERT_TRUE(good);
    EXPECT_EQ(good->front().id, "A, 1");
    const auto bad = parse_stock("id,kind,value,count\nA,resistor,4k7,3\nB,flux,1,1\n", "s.csv");
    ASSERT_FALSE(bad);
    EXPECT_EQ(bad.problem().line, 3);
    EXPECT_EQ(parse_stock("id,kind\n", "s.csv").problem().kind, ProblemKind::MissingField);
    EXPECT_EQ(parse_stock("id,kind,value,count\nA,resistor,4k7,-3\n", "s.csv").problem().kind, ProblemKind::NegativeValue);
}
