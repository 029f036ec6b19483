// SPDX-License-Identifier: GPL-3.0-or-later
// Meters of other makes: what each shows of a sound board condemns nothing, whatever its ranges end at and drive.
#include "circuit/dc_solver.h"
#include "circuit/netlist.h"
#include "report/wording.h"
#include "support/demo.h"

#include <gtest/gtest.h>

#include <random>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Full scale, currents and volts of hand meters spread over what the trade sells (common practice, no source; orders of magnitude).
MeterProfile some_meter(std::mt19937& random) {
    const auto any = [&](double lo, double hi) { return std::exp(std::uniform_real_distribution(std::log(lo), std::log(hi))(random)); };
    MeterProfile m;
    const double counts[] = {200, 220, 300, 400, 500, 600};
    double full = counts[random() % 6];
    m.ohms.clear();
    for (int k = 0; k < 6; ++k, full *= 10) m.ohms.push_back({full, std::clamp(any(0.08, 0.5) / full, 3e-8, 1.2e-3)});
    m.compliance = any(0.5, 5);
    m.diode_amps = any(0.4e-3, 1.6e-3);
    return m;
}

Entry shown(const Board& board, const DcSolver& solver, const MeterProfile& meter, const char* what, const char* red, const char* black) {
    const auto r = read_dc(solver, meter, what == std::string("diode") ? Quantity::Diode : Quantity::Ohms, *board.find_net(red),
                           *board.find_net(black));
    return r.over || (what == std::string("diode") && r.value > 1.99) ? over(read(what, red, black, 0)) : read(what, red, black, r.value);
}

} // namespace

TEST(AnyMeter, CondemnsNothingSound) {
    std::mt19937 random(11);
    for (int k = 0; k < 6; ++k) {
        const auto meter = some_meter(random);
        const Job job = discharged("fd1-linear");
        const DcSolver solver(expand(job.board, {}, {}));
        std::vector<Entry> readings;
        for (const auto& [what, red, black] :
             {std::tuple("ohms", "RES", "0V"), std::tuple("ohms", "SA", "0V"), std::tuple("diode", "DB", "TAP"),
              std::tuple("ohms", "+13V8", "0V"), std::tuple("diode", "RESF", "PB"), std::tuple("ohms", "TAP", "0V"),
              std::tuple("diode", "RES", "0V"), std::tuple("ohms", "RESF", "DB"), std::tuple("diode", "SA", "0V")})
            readings.push_back(shown(job.board, solver, meter, what, red, black));
        const auto a = analyse(with_all(job, readings));
        for (const auto& part : a->replay.board.parts) EXPECT_LT(bad(*a, part.ref), 0.6) << "meter " << k << ": " << part.ref;
        EXPECT_LT(a->assessment.unexplained, 0.3) << "meter " << k;
    }
}

// Of a kilohm a diode test shows half a volt to one and a half: what current it runs at is on no label. Three of them agree on it; one told
// by the job is believed.
TEST(AnyMeter, DiodeTestsRunAtOtherCurrents) {
    const auto b = board({"R1 resistor 1k 1=A 2=B", "R2 resistor 820 1=C 2=D", "R3 resistor 470 1=E 2=F"});
    Job job = discharged("gl1-adapter");
    job.board = b;
    for (double amps : {0.5e-3, 1e-3, 1.5e-3}) {
        const std::vector<Entry> readings = {read("diode", "A", "B", 1e3 * amps), read("diode", "C", "D", 820 * amps),
                                             read("diode", "E", "F", 470 * amps)};
        const auto a = analyse(with_all(job, readings));
        for (const char* ref : {"R1", "R2", "R3"}) EXPECT_LT(bad(*a, ref), 0.1) << ref << " at " << amps;
        const auto& learned = a->assessment.learned;
        const auto said = std::find_if(learned.begin(), learned.end(), [](const Learned& l) { return l.what == "diode test"; });
        ASSERT_EQ(said != learned.end(), amps != 1e-3) << amps;
        if (said != learned.end()) EXPECT_NEAR(said->now, amps, 0.1 * amps) << wording::learned(b, *said);
    }
    const auto told = reader().parse(R"({"ohmotrace": 1, "unit": {"name": "told"},
        "meters": [{"id": "told", "usual": true, "diode": {"amps": 0.001}}],
        "board": {"name": "told", "rails": [], "parts": [{"ref": "R1", "kind": "resistor", "value": "1k", "pins": {"1": "A", "2": "B"}}]},
        "journal": [{"at": "2026-01-05T09:00:00Z", "do": "discharge", "value": 0.2}]})");
    ASSERT_TRUE(told) << told.problem().found;
    EXPECT_GT(bad(*analyse(told->job.with(read("diode", "A", "B", 1.5))), "R1"), 0.8);
}

// All readings near 600 ohm agree on the range that shows them; a fault is no less likely for a fit that had them on two.
TEST(AnyMeter, ReadingsAtTheEdgeOfARangeAgreeOnIt) {
    const auto b = board({"R1 resistor 610 1=A 2=0V", "R2 resistor 605 1=B 2=0V", "D1 diode 1A A=A K=B", "R3 resistor 10k 1=A 2=B"});
    Job job = discharged("gl1-adapter");
    job.board = b;
    const auto a = analyse(with_all(job, {read("ohms", "A", "0V", 603), read("ohms", "B", "0V", 602), read("ohms", "A", "B", 1090)}));
    for (const char* ref : {"R1", "R2", "D1", "R3"}) EXPECT_LT(bad(*a, ref), 0.3) << ref;
}
