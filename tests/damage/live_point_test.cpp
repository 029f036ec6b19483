// SPDX-License-Identifier: GPL-3.0-or-later
// What a voltmeter finds on the way of the energy, and what of it each fault leaves.
#include "damage/live_point.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

struct Bench {
    explicit Bench(Board b) : board(std::move(b)), behaviour(board, find_roles(board)), points(board, find_roles(board), behaviour) {}

    std::optional<LivePoint> at(const std::string& red, const std::string& black, bool alternating) {
        return points.at(board.find_net(red).value_or(-1), board.find_net(black).value_or(-1), alternating);
    }
    double volts(const std::string& red, const std::string& black, bool alternating, const std::vector<std::string>& by = {}) {
        const auto point = at(red, black, alternating);
        if (!point) return -1e9;
        const auto with = faults(board, by);
        return points.of(*point, with, behaviour.judge(with).running).low;
    }

    Board board;
    BehaviourModel behaviour;
    LivePoints points;
};

} // namespace

TEST(LivePoint, TheLineAsFarAsItGets) {
    Bench b(foreign("winder-supply").board);
    EXPECT_NEAR(b.volts("L3", "N1", true), 230, 1e-9);
    EXPECT_NEAR(b.volts("N", "L1", true), 230, 1e-9) << "either way round";
    EXPECT_EQ(b.volts("L1", "N", true, {"F1:open"}), 0);
    EXPECT_NEAR(b.volts("L", "N", true, {"F1:open"}), 230, 1e-9) << "ahead of the fuse";
    EXPECT_EQ(b.volts("L3", "N1", true, {"RT1:open"}), 0);
    EXPECT_NEAR(b.volts("L2", "N1", true, {"RT1:open"}), 230, 1e-9);
    EXPECT_EQ(b.volts("L1", "N", true, {"BR1:short@~1+"}), 0) << "it blows its fuse";
    EXPECT_NEAR(b.volts("L", "N", true, {"BR1:short@~1+"}), 230, 1e-9);
    EXPECT_FALSE(b.at("L1", "L3", true)) << "of one contact both";
    EXPECT_FALSE(b.at("L3", "N1", false)) << "no direct volts stand there";
}

TEST(LivePoint, WindingsAndWhatTheyCharge) {
    Bench b(foreign("winder-supply").board);
    EXPECT_NEAR(b.volts("A1", "A2", true), 47, 0.5);
    EXPECT_NEAR(b.volts("RAW", "0V", false), 47 * std::sqrt(2.0) - b.board.practice().bridge_drop_volts, 0.7);
    EXPECT_NEAR(b.volts("0V", "RAW", false), -b.volts("RAW", "0V", false), 1e-9);
    EXPECT_EQ(b.volts("RAW", "0V", false, {"T1:open@P1-P2"}), 0);
    EXPECT_EQ(b.volts("A1", "A2", true, {"T1:open@S1-S2"}), 0);
    EXPECT_GT(b.volts("A1", "A2", true, {"T1:open@S3-S4"}), 40) << "another winding";
    EXPECT_GT(b.volts("RAW", "0V", false, {"F2:open"}), 60) << "ahead of it";
    EXPECT_GT(b.volts("RAW", "0V", false, {"C1:short"}), 60) << "its fuse goes, and not the one of the mains";
    EXPECT_GT(b.volts("RAW", "0V", false, {"BR1:open@~1+"}), 60) << "the other half wave still charges it";
    EXPECT_EQ(b.volts("RAW", "0V", false, {"BR1:open@~1+", "BR1:open@~2+"}), 0);
    EXPECT_EQ(b.volts("+20", "0V", false, {"SW1:open@1-2"}), 0);
}

TEST(LivePoint, NegativeReservoirs) {
    Bench b(foreign("strain-amplifier").board);
    EXPECT_GT(b.volts("VP", "0V", false), 15);
    EXPECT_LT(b.volts("VN", "0V", false), -15);
    EXPECT_GT(b.volts("V5", "0V", false), 5);
    EXPECT_EQ(b.volts("V5", "0V", false, {"F2:open"}), 0);
}

// A chip that the bulk capacitor starts: nothing where the way there is open or its pin is shorted, its thresholds where something else
// keeps it from running.
TEST(LivePoint, TheSupplyPinOfAChip) {
    Bench b(demo("rb6-fresh").board);
    const Board& board = b.board;
    std::string start, capacitor;
    for (const auto& part : board.parts) {
        if (part.kind == PartKind::Electrolytic && part.net("+") == board.find_net("VCC")) capacitor = part.ref;
        if (part.kind == PartKind::Resistor && part.touches(*board.find_net("VCC")) && start.empty()) start = part.ref;
    }
    ASSERT_FALSE(start.empty() || capacitor.empty());
    EXPECT_NEAR(b.volts("VCC", "PGND", false), 16 * board.practice().supply_runs, 1e-9);
    const auto starved = [&](const std::string& by) { // whatever the chip draws: anything from nothing to what its resistors let through
        const auto with = faults(board, {by});
        return b.points.of(*b.at("VCC", "PGND", false), with, b.behaviour.judge(with).running);
    };
    EXPECT_LT(starved(start + ":open").high, 8);
    EXPECT_LT(b.volts("VCC", "PGND", false, {capacitor + ":short"}), 1);
    EXPECT_LT(b.volts("VCC", "PGND", false, {"U1:supply-short"}), 1);
    EXPECT_NEAR(b.volts("VCC", "PGND", false, {"U1:dead"}), 16 * board.practice().supply_waits, 1e-9);
    EXPECT_EQ(b.volts("VCC", "PGND", false, {"F1:open"}), 0);
    EXPECT_FALSE(b.at("VCC", "0V", false)) << "not across the barrier";
    EXPECT_FALSE(b.at("DRV", "PGND", false)) << "no sum tells";
}

TEST(LivePoint, WhereNothingTellsTheInputsVolts) {
    Board draft = foreign("pattern-reader").board;
    draft.parts.front().stage = "mains-in";
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    Bench b(made->board);
    const auto point = b.at("V5L", "0V", false);
    ASSERT_TRUE(point);
    EXPECT_TRUE(point->least);
    EXPECT_EQ(b.volts("V5L", "0V", false, {"FB1:open"}), 0);
    EXPECT_GT(b.volts("V5F", "0V", false, {"FB1:open"}), 0);
}

// A battery's board behind a diode against reversed polarity, which steps up.
TEST(LivePoint, DirectCurrentThroughADiode) {
    Bench b(foreign("fence-box").board);
    const auto point = b.at("VIN", "GND", false);
    ASSERT_TRUE(point);
    EXPECT_EQ(point->what, LivePoint::What::Line);
    EXPECT_TRUE(point->least) << "nobody said what feeds it";
    EXPECT_GT(b.volts("VIN", "GND", false), 0);
    EXPECT_GT(b.volts("VIN", "GND", false, {"U1:dead"}), 0);
    for (const char* by : {"F1:open", "D1:open", "L1:open", "J1:open@1-1'", "J1:open@2-2'", "Q1:ds-short"})
        EXPECT_EQ(b.volts("VIN", "GND", false, {by}), 0) << by;
    EXPECT_GT(b.volts("B2", "GND", false, {"L1:open"}), 0) << "before it";
    EXPECT_FALSE(b.at("GND", "VIN", false)) << "the other way round it blocks";
}

// Where nothing else loads the pin, a start resistor that is open leaves it to float: it starts nothing (230 V, 47 kilohm, 12 V).
TEST(LivePoint, AStartResistorByItself) {
    Bench b(foreign("swing-arm").board);
    EXPECT_EQ(b.behaviour.judge(faults(b.board, {"R7:open"})).running, Running::NoStart);
    EXPECT_LT(b.volts("VCC", "PG", false, {"R7:open"}), 1);
    EXPECT_EQ(b.behaviour.judge(std::vector<Fault>{}).running, Running::Normal);
    EXPECT_GT(b.behaviour.supply_reach(*b.board.find_net("VCC"), {}), 100) << "until its Zener holds it";
}

TEST(LivePoint, BehindARegulatorThatIsNoRail) {
    Board draft = foreign("winder-supply").board;
    std::erase_if(draft.rails, [](const Rail& r) { return r.net == "+12V"; });
    const auto made = make_board(draft);
    ASSERT_TRUE(bool(made));
    Bench b(made->board);
    EXPECT_NEAR(b.volts("+12V", "0V", false), 12, 1e-9);
    for (const char* by : {"U1:open", "U1:output-short", "C6:short", "BR2:open@~1+"})
        EXPECT_NEAR(b.volts("+12V", "0V", false, {by}), std::string(by).starts_with("BR2") ? 12 : 0, 1e-9) << by;
    EXPECT_GT(b.volts("+12V", "0V", false, {"U1:short"}), 14);
    EXPECT_LT(b.volts("+12V", "0V", false, {"U1:low"}), 11);
    EXPECT_EQ(b.volts("+12V", "0V", false, {"T1:open@S3-S4"}), 0);
}
