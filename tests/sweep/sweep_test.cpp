// SPDX-License-Identifier: GPL-3.0-or-later
// Every board shipped, every single fault and a thousand random pairs of faults, every pair of nets, both polarities: no solve fails, and
// what is not connected reads open.
#include "circuit/board_circuit.h"
#include "support/demo.h"

#include <cstdio>
#include <filesystem>

using namespace ohmo;
using namespace ohmo::test;

namespace {

// Jobs of one unit share their board.
std::vector<std::string> shipped_jobs() {
    std::vector<std::string> out;
    for (const auto& file : std::filesystem::directory_iterator(data() / "demo"))
        if (file.path().filename() != "rb6-half-way.ohmo.json") out.push_back(file.path().filename().string());
    std::sort(out.begin(), out.end());
    return out;
}

std::vector<Fault> all_faults(const Board& b) {
    std::vector<Fault> out;
    for (int i = 0; i < static_cast<int>(b.parts.size()); ++i)
        for (FaultMode mode : modes_of(b.part(i).kind)) {
            if (!changes_dc(b, {i, mode, {}})) continue;
            if (b.part(i).kind == PartKind::Bridge && mode != FaultMode::DryJoint)
                for (const char* leg : {"~1+", "~1-", "~2+", "~2-"}) out.push_back({i, mode, leg});
            else if (mode == FaultMode::DryJoint)
                for (const auto& pin : b.part(i).pins) out.push_back({i, mode, pin.role});
            else
                out.push_back({i, mode, {}});
        }
    return out;
}

void sweep(const Board& b, const DcSolver& solver, const std::string& what, long& solved, long& failed) {
    const int nets = static_cast<int>(b.nets.size());
    for (int red = 0; red < nets; ++red)
        for (int black = 0; black < nets; ++black) {
            if (red == black) continue;
            const auto reading = read_dc(solver, {}, Quantity::Ohms, red, black);
            ++solved;
            const bool open_as_it_should = solver.connected(red, black) || reading.over;
            if (reading.converged && std::isfinite(reading.value) && open_as_it_should) continue;
            if (++failed < 10) ADD_FAILURE() << what << ": " << b.net_name(red) << " to " << b.net_name(black);
        }
}

} // namespace

class Sweep : public testing::TestWithParam<std::string> {};

TEST_P(Sweep, EveryFaultOfTheBoard) {
    const auto job = reader().load(RealDisk(), data() / "demo" / GetParam());
    ASSERT_TRUE(job);
    const Board& b = job->job.board;
    std::mt19937 random(1);
    const BoardCircuit circuit(b, {});
    const auto faults = all_faults(b);
    long solved = 0, failed = 0;
    for (const auto& f : faults) sweep(b, circuit.dc(std::vector<Fault>{f}), fault_text(b, f), solved, failed);
    for (int k = 0; k < 1000; ++k) {
        std::vector<Fault> two = {faults[random() % faults.size()], faults[random() % faults.size()]};
        if (two[0].part == two[1].part) continue;
        std::sort(two.begin(), two.end());
        sweep(b, circuit.dc(two), fault_text(b, two[0]) + " " + fault_text(b, two[1]), solved, failed);
    }
    EXPECT_EQ(failed, 0);
    std::printf("%s: %zu single faults, %ld readings, %ld failed\n", GetParam().c_str(), faults.size(), solved, failed);
}

INSTANTIATE_TEST_SUITE_P(Shipped, Sweep, testing::ValuesIn(shipped_jobs()), [](const auto& each) {
    std::string name = each.param;
    std::replace_if(
        name.begin(), name.end(), [](char c) { return std::isalnum(static_cast<unsigned char>(c)) == 0; }, '_');
    return name;
});

// Spreads by sensitivities within 10 % of 10,000 draws, on twenty places of the demo.
TEST(Spreads, AgreeWithMonteCarlo) {
    const Board& b = demo_board();
    Netlist base = expand(b, {}, {});
    for (auto& r : base.resistors) r.ln_sigma = std::min(r.ln_sigma, 0.15); // a load known to a factor of two is beyond a straight line
    const DcSolver solver(base);
    int judged = 0;
    for (const auto& [red_name, black_name] : std::vector<std::pair<const char*, const char*>>{
             {"+24V", "0V"},  {"+12V", "0V"},  {"+5V", "0V"}, {"GATE", "PGND"}, {"L1", "N"},    {"HV", "PGND"},  {"VCC", "PGND"},
             {"DRV", "GATE"}, {"SRC", "PGND"}, {"HV", "VCC"}, {"REF", "0V"},    {"OPA", "OPK"}, {"CS", "SRC"},   {"RT", "PGND"},
             {"FB", "FBC"},   {"HV", "CLAMP"}, {"AC1", "HV"}, {"+5V", "LEDA"},  {"0V", "+24V"}, {"REF", "LOOP"}, {"S24", "+24A"}}) {
        const int red = *b.find_net(red_name), black = *b.find_net(black_name);
        const auto reading = read_dc(solver, {}, Quantity::Ohms, red, black);
        if (reading.over) continue;
        double amps = 0; // of the range that the meter settled on
        for (const auto& range : MeterProfile{}.ohms)
            if (amps == 0 && reading.value <= range.full && reading.value * range.amps <= 2.5) amps = range.amps;
        const double predicted = solver.solve(red, black, amps).ln_sigma;
        std::mt19937 random(7);
        std::normal_distribution<double> normal;
        double sum = 0, squares = 0;
        const int draws = 10'000;
        for (int k = 0; k < draws; ++k) {
            Netlist drawn = base;
            for (auto& r : drawn.resistors) r.ohms *= std::exp(r.ln_sigma * normal(random));
            for (auto& j : drawn.junctions) j.is *= std::exp(j.ln_sigma * normal(random));
            for (auto& c : drawn.cores) {
                const double factor = std::exp(c.ln_sigma * normal(random));
                for (auto& w : c.windings) w.ohms *= factor;
            }
            const double ln_volts = std::log(DcSolver(std::move(drawn)).solve(red, black, amps, DcDetail::Volts).volts);
            sum += ln_volts;
            squares += ln_volts * ln_volts;
        }
        const double drawn = std::sqrt(std::max(0.0, squares / draws - std::pow(sum / draws, 2)));
        EXPECT_NEAR(predicted / drawn, 1, 0.1) << red_name << " " << black_name << " " << reading.value << " predicted " << predicted
                                               << " drawn " << drawn;
        ++judged;
    }
    EXPECT_GE(judged, 20);
}
