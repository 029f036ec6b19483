// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/square_wave.h"
#include "support/demo.h"

using namespace ohmo;
using namespace ohmo::test;

namespace {

MeterReading leak(const Board& b, const std::string& red, const std::string& black, const std::vector<Fault>& f = {}) {
    return read_dc(DcSolver(expand(b, {}, f)), MeterProfile{}, Quantity::Leakage, *b.find_net(red), *b.find_net(black));
}

} // namespace

// Check values 4 and 5: 200 mV left of 1 V behind 50 ohm: 12.5 ohm; when the display means "into 50 ohm" the open circuit has 2 V: 5.56
// ohm; all of it left: open. Common practice and worked.
TEST(SquareWave, BothConventionsOfTheGenerator) {
    MeterProfile open, into;
    into.square_into_load = true;
    EXPECT_NEAR(esr_of_residue(0.2, open.square_open_volts(), open.square_ohms), 12.5, 1e-9);
    EXPECT_NEAR(esr_of_residue(0.2, into.square_open_volts(), into.square_ohms), 5.556, 1e-3);
    EXPECT_TRUE(std::isinf(esr_of_residue(1.0, 1.0, 50)));
}

TEST(SquareWave, HarmonicsAgreeWithTheFormulaWhenTheCapacitorIsLarge) {
    for (double esr : {0.05, 1.0, 12.5}) {
        Netlist n;
        n.nodes = 2;
        n.capacitors = {{0, 1, 2200e-6, esr, 0.1, 0.1, 0}};
        const auto r = square_residue(MeterProfile{}, n, 0, 1);
        EXPECT_NEAR(r.esr_said / esr, 1, esr < 0.1 ? 0.03 : 0.01) << esr; // 23 uV of ramp on 1 mV
        EXPECT_NEAR(r.esr_true, esr, 1e-6);
        EXPECT_FALSE(r.ramp_shows);
    }
}

// 0.1 uF behind 50 ohm at 100 kHz: the residue is mostly the charging ramp, and the answer says so.
TEST(SquareWave, SaysWhenTheCapacitorIsTooSmall) {
    Netlist n;
    n.nodes = 2;
    n.capacitors = {{0, 1, 1e-7, 0.05, 0.1, 0.1, 0}};
    const auto r = square_residue(MeterProfile{}, n, 0, 1);
    EXPECT_TRUE(r.ramp_shows);
    EXPECT_GT(r.esr_said, 10 * r.esr_true);
}

// Ramp alone, worked: half a period of constant current E/(2 R) into C, small against E.
TEST(SquareWave, RampOfAPureCapacitor) {
    Netlist n;
    n.nodes = 2;
    n.capacitors = {{0, 1, 10e-6, 1e-6, 0.1, 0.1, 0}};
    const MeterProfile g;
    const double ramp = g.square_volts / 2 / g.square_ohms * (0.5 / g.square_hertz) / 10e-6;
    EXPECT_NEAR(square_residue(g, n, 0, 1).volts / ramp, 1, 0.03);
}

TEST(Insulation, BarrierLeaksOnlyWhenBroken) {
    const Board& b = demo_board();
    EXPECT_LT(leak(b, "PGND", "0V").value, 1e-6);
    EXPECT_GT(leak(b, "PGND", "0V", faults(b, {"C13:leaky"})).value, 1e-4);
}

// 500 V behind 500 kohm into 1 Mohm: 333 uA; into a 47 V Zener: (500 - 47) / 500k. Worked.
TEST(Insulation, TesterDropsItsVolts) {
    const Board b = board({"R1 resistor 1M 1=A 2=B", "D1 zener 47V A=B K=C", "R2 resistor 1R 1=C 2=D"});
    EXPECT_NEAR(leak(b, "A", "B").value, 500.0 / 1.5e6, 2e-6);
    EXPECT_NEAR(leak(b, "D", "B").value, (500 - 47) / 5e5, 1e-5);
}

// Low-power ohms never opens a junction: both ways the same, where the usual ranges differ.
TEST(LowPower, JunctionsStayOff) {
    const Board b = board({"R1 resistor 10k 1=A 2=B", "D1 diode 1000V_1A A=A K=B"});
    const DcSolver solver(expand(b, {}, {}));
    EXPECT_TRUE(read_both_ways(solver, MeterProfile{}, Quantity::Ohms, 0, 1).polarity_matters);
    const auto low = read_both_ways(solver, low_power_meter(), Quantity::Ohms, 0, 1);
    EXPECT_FALSE(low.polarity_matters);
    EXPECT_NEAR(low.forward.value, 10e3, 700);
}

TEST(CapacitanceMeter, FrequencyMattersOnceEsrDoes) {
    Netlist n;
    n.nodes = 3;
    n.capacitors = {{0, 1, 1000e-6, 0.03, 0.1, 0.1, 0}, {2, 1, 470e-6, 0.05, 0.1, 0.1, 1}};
    n.resistors = {{0, 2, 1.0, 0.02, 2}};
    MeterProfile low, high;
    high.farads_hertz = 1000;
    const double at120 = read_ac(AcSolver(n, 120), low, Quantity::Farads, 0, 1).value;
    const double at1k = read_ac(AcSolver(n, 1000), high, Quantity::Farads, 0, 1).value;
    EXPECT_GT(at120, 1.2 * at1k); // the second capacitor hides behind its ohm at the higher frequency
}
