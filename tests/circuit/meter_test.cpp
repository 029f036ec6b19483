// SPDX-License-Identifier: GPL-3.0-or-later
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

MeterReading ac(const Board& b, Quantity what, const std::string& part_ref, const std::vector<Fault>& f = {}) {
    const MeterProfile meter;
    const AcSolver solver(expand(b, {}, f), what == Quantity::Esr ? meter.esr_hertz : meter.farads_hertz);
    const auto& p = b.part(at(b, part_ref));
    return read_ac(solver, meter, what, p.net("+") >= 0 ? p.net("+") : p.pins[0].id, p.net("-") >= 0 ? p.net("-") : p.pins[1].id);
}

} // namespace

TEST(Meter, LeadsAddUnlessNulled) {
    const Board b = board({"R1 resistor 0R33 1=A 2=B"});
    MeterProfile meter;
    meter.leads = 0.4;
    const DcSolver solver(expand(b, {}, {}));
    EXPECT_NEAR(read_dc(solver, meter, Quantity::Ohms, 0, 1).value, 0.73, 1e-6);
    EXPECT_NEAR(read_dc(solver, MeterProfile{}, Quantity::Ohms, 0, 1).value, 0.33, 1e-6);
}

TEST(Meter, LowestRangeThatHoldsTheReading) {
    // 1.5 V of compliance on a part that takes 600 uA: the 2 k range is skipped because the meter cannot push its current.
    const Board b = board({"R1 resistor 1k8 1=A 2=B"});
    MeterProfile weak;
    weak.compliance = 0.5;
    const DcSolver solver(expand(b, {}, {}));
    const auto reading = read_dc(solver, weak, Quantity::Ohms, 0, 1);
    EXPECT_FALSE(reading.over);
    EXPECT_NEAR(reading.value, 1800, 1); // on the 20 k range
    EXPECT_TRUE(read_dc(DcSolver(expand(board({"R1 resistor 47M 1=A 2=B"}), {}, {})), {}, Quantity::Ohms, 0, 1).over);
}

// Trap 5: near a range boundary the meter may settle on either range; where a junction makes them differ, both are predicted.
TEST(Meter, TwoOutcomesNearARangeBoundary) {
    bool seen = false;
    for (double r = 300; r < 1000 && !seen; r *= 1.02) {
        Board draft;
        draft.parts = {part("R1 resistor 1k 1=A 2=X"), part("D1 diode - A=X K=B")};
        draft.parts[0].ohms = r;
        const Board b = make_board(draft)->board;
        const auto reading = ohms(b, "A", "B");
        if (reading.alternate) {
            seen = true;
            EXPECT_GT(*reading.alternate, reading.value); // less current, less conduction
        }
    }
    EXPECT_TRUE(seen);
}

// The same from the other side: whichever range the meter took, the other one's reading is the alternate.
TEST(Meter, EitherSideOfABoundaryNamesTheOther) {
    std::optional<MeterReading> below, above; // the last before the meter changes range, the first after
    for (double r = 300; r < 1000 && !above; r *= 1.002) {
        Board draft;
        draft.parts = {part("R1 resistor 1k 1=A 2=X"), part("D1 diode - A=X K=B")};
        draft.parts[0].ohms = r;
        const auto reading = ohms(make_board(draft)->board, "A", "B");
        if (below && reading.value > 1.2 * below->value)
            above = reading;
        else
            below = reading;
    }
    ASSERT_TRUE(below && above && below->alternate && above->alternate);
    EXPECT_NEAR(*below->alternate / above->value, 1, 0.02);
    EXPECT_NEAR(*above->alternate / below->value, 1, 0.02);
}

TEST(Meter, DiodeModeAndContinuity) {
    const Board b = board({"D1 diode 1000V_1A A=A K=B", "R1 resistor 22R 1=A 2=C"});
    const DcSolver solver(expand(b, {}, {}));
    // Check value of the engine notes (ngspice): 0.59985 V for IS 5 nA, N 1.9 at 1 mA.
    EXPECT_NEAR(read_dc(solver, {}, Quantity::Diode, 0, 1).value, 0.59985, 1e-4);
    EXPECT_TRUE(read_dc(solver, {}, Quantity::Diode, 1, 0).over);
    EXPECT_DOUBLE_EQ(read_dc(solver, {}, Quantity::Continuity, 0, 2).value, 1);
    EXPECT_DOUBLE_EQ(read_dc(solver, {}, Quantity::Continuity, 1, 2).value, 0);
}

// Trap 10: a bulk capacitor behind hundreds of kilohms charges for tens of seconds.
TEST(Meter, RisesWhileCharging) {
    EXPECT_TRUE(ohms(demo_board(), "HV", "PGND").rising);
    EXPECT_FALSE(ohms(demo_board(), "+5V", "0V").rising);
}

TEST(Meter, DryCapacitorShowsInEsrNotInOhms) {
    const Board& b = demo_board();
    const auto dry = faults(b, {"C5:dry"});
    EXPECT_GT(ac(b, Quantity::Esr, "C5", dry).value, 8 * ac(b, Quantity::Esr, "C5").value);
    EXPECT_LT(ac(b, Quantity::Farads, "C5", dry).value, 0.5 * ac(b, Quantity::Farads, "C5").value);
    EXPECT_NEAR(ohms(b, "HV", "PGND", dry).value / ohms(b, "HV", "PGND").value, 1, 0.05);
}

// A meter that takes the whole impedance for a capacitor's is off by the more the lossier it is: what it shows tells less.
TEST(Meter, ALossyCapacitorIsReadLessSurely) {
    const Board good = board({"C1 electrolytic 100u +=A -=B"});
    const Board bridged = board({"C1 electrolytic 100u +=A -=B", "R1 resistor 10 1=A 2=B"}); // reactance 13 ohm at 120 Hz
    const auto plain = ac(good, Quantity::Farads, "C1"), lossy = ac(bridged, Quantity::Farads, "C1");
    EXPECT_NEAR(plain.value, 100e-6, 1e-6);
    EXPECT_LT(plain.ln_sigma, 0.16);
    EXPECT_GT(lossy.ln_sigma, plain.ln_sigma + 0.1);
}

// A short in parallel leaves next to no reactance, of one sign or the other as strays have it: what a meter finds then is chance, and tells
// nothing of the capacitors.
TEST(Meter, BesideAShortACapacitorMayNotBeFound) {
    const Board good = board({"C1 electrolytic 2200u +=A -=B", "R1 resistor 0.03 1=A 2=B"});
    const Board stray = board({"C1 electrolytic 100u +=A -=B", "L1 inductor 2u 1=A 2=M", "R1 resistor 0.03 1=M 2=B"});
    const auto one = ac(good, Quantity::Farads, "C1"), other = ac(stray, Quantity::Farads, "C1");
    for (const auto& r : {one, other}) {
        ASSERT_TRUE(r.alternate);
        EXPECT_EQ(*r.alternate, 0);
        EXPECT_GT(r.ln_sigma, 1);
    }
    EXPECT_NEAR(std::log(one.value / other.value), 0, 2 * one.ln_sigma);
    const Board coil = board({"L1 inductor 10m 1=A 2=B"});
    const AcSolver solver(expand(coil, BoardState{}, {}), MeterProfile{}.farads_hertz);
    const auto none = read_ac(solver, MeterProfile{}, Quantity::Farads, *coil.find_net("A"), *coil.find_net("B"));
    EXPECT_EQ(none.value, 0); // an inductor is none for sure
    EXPECT_FALSE(none.alternate);
}

// ln(C1 + C2): each capacitance moves the sum by its share of it; readings of one capacitor share what it has.
TEST(Meter, CapacitorsSayWhatIsUncertainOfThem) {
    const Board b = board({"C1 electrolytic 300u +=A -=B", "C2 electrolytic 100u +=A -=B", "C3 electrolytic 47u +=A -=C"});
    const auto both = ac(b, Quantity::Farads, "C1");
    double variance = 0;
    for (const auto& d : both.by_part) variance += d.change * d.change;
    EXPECT_NEAR(std::sqrt(variance), both.ln_sigma, 0.01);
    const auto of = [&](const MeterReading& r, const char* ref, double sign) {
        double most = 0;
        for (const auto& d : r.by_part)
            if (d.part == at(b, ref) && sign * d.change > most) most = sign * d.change;
        return most;
    };
    EXPECT_NEAR(of(both, "C1", 1) / of(both, "C2", 1), 3, 0.1);
    EXPECT_EQ(of(both, "C3", 1), 0);
    const auto esr = ac(b, Quantity::Esr, "C1");
    EXPECT_GT(of(esr, "C1", 1), 0);
    for (const auto& c : both.by_part)
        for (const auto& r : esr.by_part)
            if (c.part == r.part && std::fabs(c.change) > 0.05 && std::fabs(r.change) > 0.05) EXPECT_FALSE(c.same_as(r));
}

// Check value 10: 1000 uF/30 mohm beside 470 uF/50 mohm through 100 mohm at 120 Hz: 1469.7 uF, 29.2 mohm series equivalent. Worked.
TEST(AcSolver, TwoCapacitorsThroughAResistor) {
    Netlist n;
    n.nodes = 3;
    n.capacitors = {{0, 1, 1000e-6, 0.030, 0.1, 0.1, 0}, {2, 1, 470e-6, 0.050, 0.1, 0.1, 1}};
    n.resistors = {{0, 2, 0.1, 0.02, 2}};
    const auto z = AcSolver(n, 120).impedance(0, 1).ohms;
    EXPECT_NEAR(1 / (2 * M_PI * 120 * -z.imag()) * 1e6, 1469.7, 0.5);
    EXPECT_NEAR(z.real() * 1e3, 29.2, 0.15);
}

// Values of the engine notes, confirmed with ngspice there.
TEST(AcSolver, ParallelCapacitorsWithAndWithoutAnInductor) {
    Netlist n;
    n.nodes = 2;
    n.capacitors = {{0, 1, 470e-6, 0.050, 0.1, 0.1, 0}, {0, 1, 220e-6, 0.080, 0.1, 0.1, 1}};
    EXPECT_NEAR(AcSolver(n, 1e5).impedance(0, 1).ohms.real() * 1e3, 30.773, 0.01);
    EXPECT_NEAR(1 / (2 * M_PI * 120 * -AcSolver(n, 120).impedance(0, 1).ohms.imag()) * 1e6, 689.997, 0.05);
    Netlist apart;
    apart.nodes = 3;
    apart.capacitors = {{0, 1, 470e-6, 0.050, 0.1, 0.1, 0}, {2, 1, 220e-6, 0.080, 0.1, 0.1, 1}};
    apart.resistors = {{2, 1, 4700, 0.02, 2}};
    apart.cores = {{{{0, 2, 10e-6, 0.030}}, 0.98, 0.15, 0.15, 3}};
    EXPECT_NEAR(AcSolver(apart, 1e5).impedance(0, 1).ohms.real() * 1e3, 50.044, 0.01);
    EXPECT_NEAR(1 / (2 * M_PI * 120 * -AcSolver(apart, 120).impedance(0, 1).ohms.imag()) * 1e6, 690.283, 0.05);
}

// Coupled windings: a shorted secondary shows on the primary as leakage. Worked: L (1 - k^2).
TEST(AcSolver, ShortedSecondaryLeavesTheLeakage) {
    Netlist n;
    n.nodes = 4;
    n.cores = {{{{0, 1, 1e-3, 0.01}, {2, 3, 1e-5, 0.001}}, 0.98, 0.1, 0.1, 0}};
    n.resistors = {{1, 3, 1.0, 0.1, 1}};
    const double open = AcSolver(n, 1e5).impedance(0, 1).ohms.imag();
    n.resistors.push_back({2, 3, 1e-3, 0.1, 2});
    const double shorted = AcSolver(n, 1e5).impedance(0, 1).ohms.imag();
    EXPECT_NEAR(open, 2 * M_PI * 1e5 * 1e-3, 1);
    EXPECT_NEAR(shorted / open, 1 - 0.98 * 0.98, 0.001);
}

// What an impedance is not known by, for inductances that are not: against what it moves by when they do.
TEST(AcSolver, InductancesSpreadWhatTheyMove) {
    Netlist n;
    n.nodes = 3;
    n.capacitors = {{0, 1, 1000e-6, 0.030, 0, 0, 0}};
    n.cores = {{{{0, 2, 60e-6, 0.020}}, 0.98, 0, 0.2, 1}, {{{2, 1, 22e-6, 0.050}}, 0.98, 0, 0.2, 2}};
    const auto at = [&](double first, double second) {
        Netlist moved = n;
        moved.cores[0].windings[0].henry *= std::exp(first);
        moved.cores[1].windings[0].henry *= std::exp(second);
        return AcSolver(moved, 120).impedance(0, 1).ohms;
    };
    constexpr double kStep = 1e-4;
    const auto one = (at(kStep, 0) - at(-kStep, 0)) / (2 * kStep), other = (at(0, kStep) - at(0, -kStep)) / (2 * kStep);
    const auto z = AcSolver(n, 120).impedance(0, 1);
    EXPECT_NEAR(z.reactance_ln_sigma, 0.2 * std::hypot(one.imag(), other.imag()) / std::fabs(z.ohms.imag()), 1e-4);
    EXPECT_NEAR(z.real_ln_sigma, 0.2 * std::hypot(one.real(), other.real()) / std::fabs(z.ohms.real()), 1e-4);
    EXPECT_GT(z.reactance_ln_sigma, 0.01);
}

// Turns that nobody told: few on the other windings where a switch stands on the primary, as many where the line does.
TEST(Expand, TurnsThatNobodyTold) {
    const auto other = [](const Board& b) {
        const auto net = expand_part(b, at(b, "T1"), {});
        return net.cores.front().windings[1].henry / net.cores.front().windings[0].henry;
    };
    const double share = shipped_practice().untold_turns_share;
    EXPECT_NEAR(other(board({"T1 transformer - P1=BUS P2=DR S1=A S2=0V", "Q1 mosfet - D=DR G=G S=0P"})), share * share, 1e-9);
    EXPECT_NEAR(other(board({"T1 transformer - P1=X P2=0P S1=A S2=0V", "L1 inductor 60u 1=SW 2=X", "Q1 mosfet - D=BUS G=G S=SW"})),
                share * share, 1e-9);
    EXPECT_NEAR(other(board({"T1 transformer - P1=L P2=N S1=A S2=B", "Q1 bjt-npn - C=A B=X E=OUT"})), 1, 1e-9);
}

// Every fault that the model says an ohmmeter can see, seen at the part itself out of circuit.
TEST(Expand, FaultsThatChangeDcDoChangeIt) {
    const Board& b = demo_board();
    int checked = 0;
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i) {
        BoardState alone;
        alone.lifted.assign(b.parts.size(), 1);
        alone.lifted[static_cast<std::size_t>(i)] = 0;
        const auto& p = b.part(i);
        for (auto mode : modes_of(p.kind)) {
            if (mode == FaultMode::DryJoint || mode == FaultMode::Breakdown) continue; // seen from the net, and between windings
            const Fault f{i, mode, p.kind == PartKind::Bridge ? "~1+" : ""};
            const DcSolver good(expand(b, alone, {})), bad(expand(b, alone, std::vector<Fault>{f}));
            bool differs = false;
            for (const auto& x : p.pins)
                for (const auto& y : p.pins) {
                    if (x.id == y.id) continue;
                    for (auto what : {Quantity::Ohms, Quantity::Diode}) {
                        const auto a = read_dc(good, {}, what, x.id, y.id), c = read_dc(bad, {}, what, x.id, y.id);
                        differs = differs || a.over != c.over || std::fabs(a.value - c.value) > 0.02 * std::fabs(a.value) + 1e-6;
                    }
                }
            EXPECT_EQ(differs, changes_dc(b, f)) << p.ref << " " << mode_name(mode);
            ++checked;
        }
    }
    EXPECT_GT(checked, 150);
}

TEST(Expand, LiftedPartsAndPulledConnectorsAreGone) {
    const Board& b = demo_board();
    BoardState state;
    state.lifted.assign(b.parts.size(), 0);
    state.lifted[static_cast<std::size_t>(at(b, "R9"))] = 1;
    EXPECT_GT(ohms(b, "SRC", "PGND", {}, state).value, 1e4);
    BoardState pulled;
    pulled.pulled.assign(b.parts.size(), 0);
    pulled.pulled[static_cast<std::size_t>(at(b, "J2"))] = 1;
    EXPECT_GT(ohms(b, "+5V", "0V", {}, pulled).value, 1.1 * ohms(b, "+5V", "0V").value); // the load board no longer counts
}
