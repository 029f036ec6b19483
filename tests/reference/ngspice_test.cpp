// SPDX-License-Identifier: GPL-3.0-or-later
// In-circuit readings against ngspice (shared library). Every reading is the volts across the leads of a current source of the meter's
// range. An operating point that ngspice does not converge on counts as no answer: its fallback to a transient is switched off.
#include "support/demo.h"

#include <fmt/format.h>
#include <ngspice/sharedspice.h>

#include <array>
#include <cstring>

using namespace ohmo;
using namespace ohmo::test;

namespace {

std::string g_log;

int on_text(char* text, int, void*) {
    g_log += text;
    g_log += "\n";
    return 0;
}
int on_status(char*, int, void*) { return 0; }
int on_exit(int, NG_BOOL, NG_BOOL, int, void*) { return 0; }

class Spice {
public:
    Spice() { ngSpice_Init(on_text, on_status, on_exit, nullptr, nullptr, nullptr, nullptr); }

    // Volts between two nodes of a netlist; empty when it did not converge.
    std::optional<double> volts(const std::vector<std::string>& lines, const std::string& plus, const std::string& minus) {
        run(lines, "op");
        const auto a = real_at(plus), b = minus == "0" ? std::optional(0.0) : real_at(minus);
        if (!a || !b || g_log.find("onvergence") != std::string::npos || g_log.find("ingular") != std::string::npos) return std::nullopt;
        return *a - *b;
    }

    std::optional<std::complex<double>> phasor(const std::vector<std::string>& lines, double hertz, const std::string& plus) {
        run(lines, fmt::format("ac lin 1 {} {}", hertz, hertz));
        auto* v = ngGet_Vec_Info(const_cast<char*>(plus.c_str()));
        if (v == nullptr || v->v_length < 1 || v->v_compdata == nullptr) return std::nullopt;
        return std::complex<double>(v->v_compdata[0].cx_real, v->v_compdata[0].cx_imag);
    }

private:
    static void command(const std::string& text) { ngSpice_Command(const_cast<char*>(text.c_str())); }

    static void run(const std::vector<std::string>& lines, const std::string& analysis) {
        g_log.clear();
        std::vector<std::string> all = {"* ohmotrace"};
        all.insert(all.end(), lines.begin(), lines.end());
        all.emplace_back(".options reltol=1e-6 abstol=1e-15 vntol=1e-9 gmin=1e-15 itl1=2000");
        all.emplace_back(".end");
        std::vector<char*> pointers;
        for (auto& l : all) pointers.push_back(l.data());
        pointers.push_back(nullptr);
        ngSpice_Circ(pointers.data());
        command("optran 1 1 1 0 0 0");
        command(analysis);
    }

    static std::optional<double> real_at(const std::string& node) {
        auto* v = ngGet_Vec_Info(const_cast<char*>(node.c_str()));
        if (v == nullptr || v->v_length < 1 || v->v_realdata == nullptr) return std::nullopt;
        return v->v_realdata[0];
    }
};

Spice& spice() {
    static Spice one;
    return one;
}

std::string node(int n) { return fmt::format("n{}", n); }

// Our element list as a SPICE deck, with one tie of 1 Gohm for every island, as a floating circuit has no operating point.
std::vector<std::string> deck(const Netlist& net, int ground) {
    std::vector<std::string> out;
    const auto name = [&](int n) { return n == ground ? std::string("0") : node(n); };
    int k = 0;
    for (const auto& r : net.resistors) out.push_back(fmt::format("r{} {} {} {:.9g}", ++k, name(r.a), name(r.b), r.ohms));
    for (const auto& j : net.junctions) {
        ++k;
        out.push_back(fmt::format("d{} {} {} m{}", k, name(j.anode), name(j.cathode), k));
        out.push_back(
            fmt::format(".model m{} d(is={:.9g} n={:.9g}{})", k, j.is, j.n, j.bv > 0 ? fmt::format(" bv={:.9g} ibv=1m", j.bv) : ""));
        out.push_back(fmt::format("rj{} {} {} {:.9g}", k, name(j.anode), name(j.cathode), 1 / kJunctionLeak));
    }
    for (const auto& core : net.cores)
        for (const auto& w : core.windings)
            out.push_back(fmt::format("rw{} {} {} {:.9g}", ++k, name(w.a), name(w.b), std::max(w.ohms, 1e-3)));
    const DcSolver islands(net);
    std::vector<char> tied(static_cast<std::size_t>(net.nodes), 0);
    for (int n = 0; n < net.nodes; ++n) {
        const auto island = static_cast<std::size_t>(islands.island(n));
        if (!islands.connected(n, ground) && !tied[island]) {
            tied[island] = 1;
            out.push_back(fmt::format("rt{} {} 0 1e9", n, name(n)));
        }
    }
    return out;
}

struct Agreement {
    int compared = 0, silent = 0;
    double worst = 0;
};

void compare(const Netlist& net, int red, int black, double amps, double tolerance, Agreement& agreement, const std::string& what) {
    const DcSolver solver(net);
    if (red == black || !solver.connected(red, black)) return;
    auto lines = deck(net, black);
    lines.push_back(fmt::format("itest 0 {} {:.9g}", node(red), amps));
    const auto reference = spice().volts(lines, node(red), "0");
    if (!reference) {
        ++agreement.silent;
        return;
    }
    const auto ours = solver.solve(red, black, amps);
    ASSERT_TRUE(ours.converged) << what;
    const double off = std::fabs(ours.volts - *reference);
    agreement.worst = std::max(agreement.worst, off / std::max(std::fabs(*reference), 1e-6));
    EXPECT_LT(off, std::max(tolerance * std::fabs(*reference), 1e-6)) << what << ": " << ours.volts << " V, ngspice " << *reference << " V";
    ++agreement.compared;
}

} // namespace

TEST(Ngspice, DemoBoardInCircuit) {
    const Board& b = demo_board();
    const std::vector<std::vector<std::string>> fault_sets = {
        {}, {"Q1:ds-short", "R9:open", "F1:open"}, {"Q1:short", "U1:output-short"}, {"BR1:short@~1+"}, {"C16:short"}, {"D8:short"}};
    const std::vector<std::pair<const char*, const char*>> places = {
        {"HV", "PGND"}, {"+24V", "0V"}, {"+12V", "0V"}, {"+5V", "0V"},   {"DRAIN", "SRC"}, {"GATE", "SRC"}, {"VCC", "PGND"},
        {"AC1", "N2"},  {"L1", "N"},    {"AC1", "HV"},  {"DRV", "PGND"}, {"S24", "+24A"},  {"REF", "0V"},   {"OPA", "OPK"}};
    Agreement agreement;
    for (const auto& set : fault_sets) {
        const Netlist net = expand(b, {}, faults(b, set));
        for (const auto& [red, black] : places)
            for (double amps : {1e-3, 75e-6, 0.75e-6}) {
                compare(net, *b.find_net(red), *b.find_net(black), amps, 0.01, agreement, std::string(red) + "-" + black);
                compare(net, *b.find_net(black), *b.find_net(red), amps, 0.01, agreement, std::string(black) + "-" + red);
            }
    }
    EXPECT_GT(agreement.compared, 300);
    RecordProperty("compared", agreement.compared);
    RecordProperty("ngspice_without_answer", agreement.silent);
    std::printf("demo board: %d readings compared, worst %.2g relative, ngspice without an answer on %d\n", agreement.compared,
                agreement.worst, agreement.silent);
}

TEST(Ngspice, RandomNetworksWithJunctions) {
    std::mt19937 random(2026);
    std::uniform_real_distribution<double> decade(0, 6), saturation(-14, -6), ideality(1, 2);
    Agreement agreement;
    for (int run = 0; run < 120; ++run) {
        Netlist net;
        net.nodes = 3 + run % 8;
        for (int i = 1; i < net.nodes; ++i)
            net.resistors.push_back({i, static_cast<int>(random() % static_cast<unsigned>(i)), std::pow(10, decade(random)), 0.02, 0});
        for (int k = 0; k < 4; ++k) {
            const int a = static_cast<int>(random() % static_cast<unsigned>(net.nodes)),
                      c = static_cast<int>(random() % static_cast<unsigned>(net.nodes));
            if (a != c) net.junctions.push_back({a, c, std::pow(10, saturation(random)), ideality(random), k == 3 ? 5.1 : 0.0, 0.5, 1});
        }
        const int red = static_cast<int>(random() % static_cast<unsigned>(net.nodes));
        compare(net, red, (red + 1) % net.nodes, run % 2 == 0 ? 1e-3 : 75e-6, 0.01, agreement, fmt::format("network {}", run));
    }
    EXPECT_GT(agreement.compared, 100);
    std::printf("random networks: %d compared, worst %.2g relative, ngspice without an answer on %d\n", agreement.compared, agreement.worst,
                agreement.silent);
}

// The table of small circuits found with ngspice in the feasibility study, once through our solver and once through ngspice here.
TEST(Ngspice, SmallNetworksOfTheStudy) {
    struct Case {
        const char* name;
        std::vector<std::string> parts;
        double amps, ohms;
    };
    const std::vector<Case> cases = {
        {"1k parallel to 2.2k + 4.7k", {"R1 resistor 1k 1=A 2=0", "R2 resistor 2k2 1=A 2=B", "R3 resistor 4k7 1=B 2=0"}, 1e-3, 873.418},
        {"bridge of resistors",
         {"R1 resistor 100R 1=A 2=X", "R2 resistor 220R 1=A 2=Y", "R3 resistor 330R 1=X 2=0", "R4 resistor 470R 1=Y 2=0",
          "R5 resistor 1k 1=X 2=Y"},
         1e-3,
         264.486},
        {"10k parallel to a diode, 75 uA", {"R1 resistor 10k 1=A 2=0", "D1 diode - A=A K=0"}, 75e-6, 5741.45},
        {"10k parallel to a diode, 0.4 mA", {"R1 resistor 10k 1=A 2=0", "D1 diode - A=A K=0"}, 4e-4, 1368.96},
    };
    for (const auto& c : cases) {
        const Board b = board(c.parts);
        const Netlist net = expand(b, {}, {});
        const int red = *b.find_net("A"), black = *b.find_net("0");
        EXPECT_NEAR(DcSolver(net).solve(red, black, c.amps).volts / c.amps / c.ohms, 1, 2e-4) << c.name;
        Agreement agreement;
        compare(net, red, black, c.amps, 1e-3, agreement, c.name);
        EXPECT_EQ(agreement.compared, 1) << c.name;
    }
}

TEST(Ngspice, ImpedancesOfTheDemoRails) {
    const Board& b = demo_board();
    const Netlist net = expand(b, {}, {});
    const int black = *b.find_net("0V");
    for (const char* rail : {"+24V", "+12V", "+5V"})
        for (double hertz : {120.0, 1e3, 1e5}) {
            std::vector<std::string> lines;
            const auto name = [&](int n) { return n == black ? std::string("0") : node(n); };
            int k = 0;
            for (const auto& r : net.resistors) lines.push_back(fmt::format("r{} {} {} {:.9g}", ++k, name(r.a), name(r.b), r.ohms));
            for (const auto& j : net.junctions)
                lines.push_back(fmt::format("r{} {} {} {:.9g}", ++k, name(j.anode), name(j.cathode),
                                            1 / (j.is / (j.n * kThermalVolts) + kJunctionLeak)));
            for (const auto& c : net.capacitors) {
                ++k;
                lines.push_back(fmt::format("c{} {} x{} {:.9g}", k, name(c.a), k, c.farads));
                lines.push_back(fmt::format("r{} x{} {} {:.9g}", k, k, name(c.b), c.esr));
            }
            for (const auto& core : net.cores) {
                std::vector<int> coils;
                for (const auto& w : core.windings) {
                    coils.push_back(++k);
                    lines.push_back(fmt::format("l{} {} y{} {:.9g}", k, name(w.a), k, w.henry));
                    lines.push_back(fmt::format("r{} y{} {} {:.9g}", k, k, name(w.b), std::max(w.ohms, 1e-3)));
                }
                for (std::size_t i = 0; i < coils.size(); ++i)
                    for (std::size_t m = i + 1; m < coils.size(); ++m)
                        lines.push_back(fmt::format("k{} l{} l{} {:.9g}", ++k, coils[i], coils[m], core.coupling));
            }
            for (int n = 0; n < net.nodes; ++n)
                if (n != black) lines.push_back(fmt::format("rg{} {} 0 1e12", n, node(n)));
            const int red = *b.find_net(rail);
            lines.push_back(fmt::format("itest 0 {} dc 0 ac 1", node(red)));
            const auto reference = spice().phasor(lines, hertz, node(red));
            ASSERT_TRUE(reference) << rail;
            const auto ours = AcSolver(net, hertz).impedance(red, black).ohms;
            EXPECT_LT(std::abs(ours - *reference) / std::abs(*reference), 1e-3) << rail << " at " << hertz << " Hz";
        }
}
