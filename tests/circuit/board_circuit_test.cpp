// SPDX-License-Identifier: GPL-3.0-or-later
// Fault sets by update against the board factored anew.
#include "board/families.h"
#include "circuit/solver_store.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::vector<Fault> some_faults(const Board& b, std::mt19937& random, int count) {
    std::vector<Fault> out;
    for (int k = 0; k < count; ++k) {
        const int part = static_cast<int>(random() % b.parts.size());
        const auto modes = modes_of(b.part(part).kind);
        const FaultMode mode = modes[random() % modes.size()];
        out.push_back({part, mode, b.part(part).kind == PartKind::Bridge && mode != FaultMode::DryJoint ? "~2+" : ""});
    }
    std::sort(out.begin(), out.end());
    return out;
}

} // namespace

TEST(BoardCircuit, UpdatesAgreeWithTheBoardFactoredAnew) {
    const Board& b = demo_board();
    const BoardCircuit circuit(b, {});
    std::mt19937 random(4);
    int compared = 0;
    for (int run = 0; run < 60; ++run) {
        const auto set = some_faults(b, random, 1 + run % 3);
        const DcSolver fast = circuit.dc(set), slow(expand(b, {}, set));
        for (std::size_t a = 0; a < b.nets.size(); a += 3)
            for (std::size_t c = 1; c < b.nets.size(); c += 5) {
                if (a == c) continue;
                const int red = static_cast<int>(a), black = static_cast<int>(c);
                ASSERT_EQ(fast.connected(red, black), slow.connected(red, black));
                if (!slow.connected(red, black)) continue;
                const auto x = fast.solve(red, black, 75e-6), y = slow.solve(red, black, 75e-6);
                EXPECT_NEAR(x.volts, y.volts, 1e-5 * std::fabs(y.volts) + 1e-9);
                EXPECT_NEAR(x.ln_sigma, y.ln_sigma, 1e-3 * y.ln_sigma + 1e-6);
                ++compared;
            }
    }
    EXPECT_GT(compared, 3000);
}

TEST(BoardCircuit, ImpedancesAgreeToo) {
    const Board& b = demo_board();
    SolverStore store(std::make_shared<const BoardCircuit>(b, BoardState{}));
    std::mt19937 random(9);
    for (double hertz : {120.0, 1e5}) {
        for (int run = 0; run < 60; ++run) {
            auto set = some_faults(b, random, 1 + run % 3);
            std::sort(set.begin(), set.end());
            const AcSolver fast = *store.ac(hertz, set), slow(expand(b, {}, set), hertz);
            for (const char* net : {"+24A", "+5V", "VCC", "HV", "L2"}) {
                const int red = *b.find_net(net), black = *b.find_net(net[0] == '+' ? "0V" : net[0] == 'L' ? "N2" : "PGND");
                const auto x = fast.impedance(red, black).ohms, y = slow.impedance(red, black).ohms;
                EXPECT_LT(std::abs(x - y) / std::abs(y), 1e-6) << net << " at " << hertz;
            }
        }
    }
}

TEST(BoardCircuit, LiftedAndPulledPartsStayAway) {
    const Board& b = demo_board();
    BoardState state;
    state.lifted.assign(b.parts.size(), 0);
    state.lifted[static_cast<std::size_t>(at(b, "Q1"))] = 1;
    const BoardCircuit circuit(b, state);
    const auto with_fault = circuit.netlist(faults(b, {"Q1:ds-short"}));
    EXPECT_EQ(with_fault.resistors.size(), circuit.netlist({}).resistors.size());
}

// Trap 1: the update formula must refuse what would cancel. An opened series part between two good conductors reads open, not megohms.
TEST(BoardCircuit, OpensAreNeverUpdates) {
    const Board b = board({"R1 resistor 1R 1=A 2=B", "R2 resistor 1R 1=B 2=C", "R3 resistor 1R 1=C 2=D"});
    const BoardCircuit circuit(b, {});
    const auto set = faults(b, {"R2:open"});
    EXPECT_TRUE(read_dc(circuit.dc(set), {}, Quantity::Ohms, *b.find_net("A"), *b.find_net("D")).over);
    EXPECT_FALSE(circuit.ac_from(circuit.ac({}, 1e5), {}, set));
    SolverStore store(std::make_shared<const BoardCircuit>(b, BoardState{}));
    EXPECT_GT(std::abs(store.ac(1e5, set)->impedance(*b.find_net("A"), *b.find_net("D")).ohms), 5e8);
}

// What is faulty beside an open part updates the board with that part open.
TEST(SolverStore, AnOpenPartIsFactoredOnce) {
    const Board& b = demo_board();
    const auto circuit = std::make_shared<const BoardCircuit>(b, BoardState{});
    SolverStore store(circuit);
    const auto open = faults(b, {"R9:open"}), more = faults(b, {"C5:dry", "R9:open"});
    auto sorted = more;
    std::sort(sorted.begin(), sorted.end());
    ASSERT_FALSE(circuit->ac_from(*store.ac(120, {}), {}, open));
    ASSERT_FALSE(circuit->ac_from(*store.ac(120, {}), {}, sorted));
    const auto updated = circuit->ac_from(*store.ac(120, open), open, sorted);
    ASSERT_TRUE(updated);
    const AcSolver slow(expand(b, {}, sorted), 120);
    const auto place = [&](const AcSolver& s) { return s.impedance(*b.find_net("HV"), *b.find_net("PGND")).ohms; };
    EXPECT_LT(std::abs(place(*updated) - place(slow)), 1e-6 * std::abs(place(slow)));
    EXPECT_EQ(place(*store.ac(120, sorted)), place(*updated));
    EXPECT_EQ(store.ac(120, sorted), store.ac(120, sorted));
}

TEST(SolverStore, DirectCurrentThroughAnOpenPartAndAShort) {
    const Board& b = demo_board();
    SolverStore store(std::make_shared<const BoardCircuit>(b, BoardState{}));
    std::mt19937 random(4);
    for (int run = 0; run < 30; ++run) {
        auto set = some_faults(b, random, 2);
        set.push_back(fault(b, run % 2 == 0 ? "F1:open" : "R9:open"));
        std::sort(set.begin(), set.end());
        const DcSolver slow(expand(b, {}, set));
        const auto x = store.dc(set)->solve(*b.find_net("HV"), *b.find_net("PGND"), 75e-6);
        const auto y = slow.solve(*b.find_net("HV"), *b.find_net("PGND"), 75e-6);
        EXPECT_NEAR(x.volts, y.volts, 1e-5 * std::fabs(y.volts) + 1e-9);
    }
}

TEST(Families, RatingsChooseTheFamily) {
    const auto model = [](const std::string& line) {
        const Part p = part(line);
        return device_model(p, *nominal_value(p));
    };
    EXPECT_EQ(model("D1 diode 1000V_1A A=A K=B").family, "silicon rectifier");
    EXPECT_EQ(model("D1 diode 75V_0.15A A=A K=B").family, "small-signal diode");
    EXPECT_EQ(model("D1 diode LED A=A K=B").family, "light-emitting diode");
    EXPECT_EQ(model("D1 schottky 40V_5A A=A K=B").family, "Schottky rectifier below 50 V");
    EXPECT_EQ(model("Q1 mosfet 600V_6A D=A G=B S=C").family, "high-voltage MOSFET");
    EXPECT_EQ(model("Q1 mosfet 55V_50A D=A G=B S=C").family, "MOSFET below 100 V");
    EXPECT_EQ(model("Q1 bjt-npn 700V_4A C=A B=B E=C").family, "high-voltage bipolar switch");
    EXPECT_DOUBLE_EQ(model("D1 zener 12V A=A K=B").junction.bv, 12);
    EXPECT_GT(model("D1 schottky 60V_10A A=A K=B").junction.is, model("D1 schottky 60V_1A A=A K=B").junction.is);
}

TEST(Families, BadFilesAreNamed) {
    EXPECT_EQ(parse_device_families("[", "f").problem().kind, ProblemKind::JsonBroken);
    EXPECT_EQ(parse_device_families("{}", "f").problem().kind, ProblemKind::SchemaMismatch);
    const auto kind = parse_device_families(R"({"families": [{"name": "x", "kinds": ["flux"]}]})", "f");
    EXPECT_EQ(kind.problem().kind, ProblemKind::UnknownPartKind);
    EXPECT_EQ(kind.problem().place, "f#/families/0/kinds");
    EXPECT_EQ(parse_device_families(R"({"families": [{"name": "x", "junction": {"is": -1}}]})", "f").problem().kind,
              ProblemKind::OutOfRangeValue);
}

// A transistor in circuit is more than two diodes: base current lets the collector conduct. Worked: 0.4 mA into the base through 1k, gain
// 100, so the collector saturates across its 10k to the base's source.
TEST(Devices, TransistorsHaveGain) {
    const Board b = board({"Q1 bjt-npn 60V_1A C=C B=B E=E", "R1 resistor 1k 1=A 2=B", "R2 resistor 10k 1=A 2=C"});
    const auto n = expand(b, {}, {});
    const auto point = DcSolver(n).solve(*b.find_net("A"), *b.find_net("E"), 4e-4);
    ASSERT_TRUE(point.converged);
    Netlist diodes = n;
    const auto q = n.bipolars[0];
    diodes.bipolars.clear();
    for (int other : {q.e, q.c}) diodes.junctions.push_back({q.b, other, q.is, 1, 0, 0, q.part});
    EXPECT_LT(point.volts, DcSolver(diodes).solve(*b.find_net("A"), *b.find_net("E"), 4e-4).volts - 0.05);
}

TEST(Devices, ChannelOpensAboveItsThreshold) {
    Netlist n;
    n.nodes = 3; // 0 drain and gate together through 1 ohm, 2 source
    n.resistors = {{0, 1, 1, 0, 0}};
    n.channels = {{0, 1, 2, false, 2.0, 0.1, 0, 1}};
    const auto point = DcSolver(n).solve(0, 2, 1e-3);
    ASSERT_TRUE(point.converged);
    EXPECT_NEAR(point.volts, 2.0 + std::sqrt(2 * 1e-3 / 0.1), 1e-3); // i = gain/2 (v - threshold)^2
}

TEST(Devices, VaristorConductsBothWaysAboveItsVolts) {
    const Board b = board({"RV1 varistor 275V 1=A 2=B"});
    const DcSolver solver(expand(b, {}, {}));
    MeterProfile tester;
    tester.insulation_volts = 1000;
    const auto both = read_both_ways(solver, tester, Quantity::Leakage, 0, 1);
    EXPECT_NEAR(both.forward.value, (1000 - 440) / 5e5, 1e-4);
    EXPECT_FALSE(both.polarity_matters);
    EXPECT_LT(read_dc(solver, {}, Quantity::Leakage, 0, 1).value, 2e-4);
    EXPECT_TRUE(read_dc(solver, {}, Quantity::Ohms, 0, 1).over);
}

// As steep for every rating: nothing flows far below the rated volts, and halves that differ drive nothing.
TEST(Devices, VaristorsOfAllRatingsAreOpenBelowTheirVolts) {
    for (const char* volts : {"14V", "30V", "130V", "460V"}) {
        Netlist net = expand(board({std::string("RV1 varistor ") + volts + " 1=A 2=B", "R1 resistor 100k 1=A 2=B"}), {}, {});
        net.junctions.front().is *= 5;
        const DcSolver solver(net);
        const auto ohms = read_dc(solver, {}, Quantity::Ohms, 0, 1);
        EXPECT_NEAR(ohms.value, 1e5, 500) << volts;
        EXPECT_GT(solver.solve(0, 1, 1e-8).volts, 0) << volts;
    }
}
