// SPDX-License-Identifier: GPL-3.0-or-later
// One run, side by side: the same operating points through our predictor, through ngspice as a batch job and through its shared library.
// ngspice gets the easier task: the range is given, no spreads, one operating point a reading; ours finds the range and gives the spread.
#include "base/disk.h"
#include "circuit/spice.h"
#include "damage/enumerate.h"
#include "job/job.h"
#include "readings/predictor.h"

#include <fmt/format.h>
#include <ngspice/sharedspice.h>

#include <chrono>
#include <cmath>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <random>
#include <set>

namespace {

using namespace ohmo;
using Ticks = std::chrono::steady_clock;

double seconds_since(Ticks::time_point start) { return std::chrono::duration<double>(Ticks::now() - start).count(); }

Board demo_board() {
    const RealDisk disk;
    const auto reader = JobReader::make(disk, data_dir());
    auto job = reader ? reader->load(disk, data_dir() / "demo" / "rb6-fresh.ohmo.json") : Result<LoadedJob>(reader.problems());
    if (!job) std::abort();
    return job->job.board;
}

// `copies` of the demo that share the nets named: parts and islands grow together.
Board larger(const Board& one, int copies, const std::set<std::string>& common) {
    Board out = one;
    for (int c = 1; c < copies; ++c)
        for (Part part : one.parts) {
            part.ref += fmt::format("_{}", c);
            for (auto& pin : part.pins)
                if (!common.contains(pin.net)) pin.net += fmt::format("_{}", c);
            out.parts.push_back(std::move(part));
        }
    auto made = make_board(std::move(out));
    if (!made) std::abort();
    return made->board;
}

std::vector<Query> ohm_readings(const Board& board) {
    std::vector<Query> out;
    std::set<std::pair<int, int>> seen;
    for (const auto& part : board.parts)
        for (std::size_t i = 0; i < part.pins.size(); ++i)
            for (std::size_t k = 0; k < part.pins.size(); ++k)
                if (part.pins[i].id != part.pins[k].id && seen.emplace(part.pins[i].id, part.pins[k].id).second)
                    out.push_back({Quantity::Ohms, part.pins[i].id, part.pins[k].id, -1, {}, 0});
    return out;
}

std::vector<std::vector<Fault>> random_fault_sets(const Board& board, std::size_t count) {
    std::mt19937 random(5);
    std::vector<std::vector<Fault>> out;
    while (out.size() < count) {
        std::set<Fault> set;
        const auto wanted = 1 + random() % 4;
        while (set.size() < wanted) {
            const int part = static_cast<int>(random() % board.parts.size());
            const auto modes = modes_of(board.part(part).kind);
            const Fault f{part, modes[random() % modes.size()], board.part(part).kind == PartKind::Bridge ? "~1+" : ""};
            if (changes_dc(board, f) && f.mode != FaultMode::DryJoint) set.insert(f);
        }
        out.emplace_back(set.begin(), set.end());
    }
    return out;
}

struct Point {
    int red, black;
    double amps, volts;
};

double range_amps(double ohms) {
    for (const auto& r : MeterProfile{}.ohms)
        if (ohms <= r.full) return r.amps;
    return 75e-9;
}

std::string node(int n) { return fmt::format("n{}", n); }

// One circuit a fault set: a current source for every reading, all at nothing.
std::vector<std::string> deck(const Netlist& net, const std::vector<Point>& points) {
    auto lines = spice_lines(net, SpiceUse::OperatingPoint, node);
    for (std::size_t k = 0; k < points.size(); ++k)
        lines.push_back(fmt::format("i{} {} {} 0", k, node(points[k].black), node(points[k].red)));
    for (int n = 0; n < net.nodes; ++n) lines.push_back(fmt::format("rg{} {} 0 1e9", n, node(n))); // with less it steps gmin for seconds
    lines.emplace_back(".options reltol=1e-5 abstol=1e-13 vntol=1e-8 gmin=1e-15");
    return lines;
}

int quiet(char*, int, void*) { return 0; }
int stop(int, NG_BOOL, NG_BOOL, int, void*) { return 0; }
void command(const std::string& text) { ngSpice_Command(const_cast<char*>(text.c_str())); }

struct Reference {
    double seconds = 0;
    std::size_t answers = 0;
    double worst = 0;
};

Reference by_library(const std::vector<Netlist>& nets, const std::vector<std::vector<Point>>& points) {
    Reference out;
    ngSpice_Init(quiet, quiet, stop, nullptr, nullptr, nullptr, nullptr);
    const auto start = Ticks::now();
    for (std::size_t s = 0; s < nets.size(); ++s) {
        auto lines = deck(nets[s], points[s]);
        lines.insert(lines.begin(), "* bench");
        lines.emplace_back(".end");
        std::vector<char*> raw;
        for (auto& l : lines) raw.push_back(l.data());
        raw.push_back(nullptr);
        ngSpice_Circ(raw.data());
        command("optran 1 1 1 0 0 0");
        for (std::size_t k = 0; k < points[s].size(); ++k) {
            const auto& p = points[s][k];
            command(fmt::format("alter i{} = {:.9g}", k, p.amps));
            command("op");
            const auto volts_of = [](int n) {
                auto* v = ngGet_Vec_Info(const_cast<char*>(node(n).c_str()));
                return v != nullptr && v->v_realdata != nullptr && v->v_length > 0 ? v->v_realdata[0] : std::nan("");
            };
            const double volts = volts_of(p.red) - volts_of(p.black);
            if (std::isfinite(volts) && std::fabs(volts) < 100) {
                ++out.answers;
                out.worst = std::max(out.worst, std::fabs(volts - p.volts) / std::max(std::fabs(volts), 0.1));
            }
            command(fmt::format("alter i{} = 0", k));
            command("destroy all");
        }
        command("remcirc");
    }
    out.seconds = seconds_since(start);
    return out;
}

Reference by_batch(const std::vector<Netlist>& nets, const std::vector<std::vector<Point>>& points) {
    Reference out;
    if (std::system("command -v ngspice > /dev/null 2>&1") != 0) return out;
    const auto folder = std::filesystem::temp_directory_path() / "ohmo-physics-bench";
    std::filesystem::create_directories(folder);
    for (std::size_t s = 0; s < nets.size(); ++s) {
        std::ofstream file(folder / fmt::format("{}.cir", s));
        file << "* bench\n";
        for (const auto& l : deck(nets[s], points[s])) file << l << "\n";
        file << ".control\noptran 1 1 1 0 0 0\n";
        for (std::size_t k = 0; k < points[s].size(); ++k)
            file << fmt::format("alter i{} = {:.9g}\nop\nprint v({})-v({})\nalter i{} = 0\ndestroy all\n", k, points[s][k].amps,
                                node(points[s][k].red), node(points[s][k].black), k);
        file << ".endc\n.end\n";
        out.answers += points[s].size();
    }
    const auto start = Ticks::now();
    for (std::size_t s = 0; s < nets.size(); ++s) {
        const auto line = fmt::format("ngspice -b {} > /dev/null 2>&1", (folder / fmt::format("{}.cir", s)).string());
        if (std::system(line.c_str()) < 0) break;
    }
    out.seconds = seconds_since(start);
    std::filesystem::remove_all(folder);
    return out;
}

struct Timed {
    double seconds;
    std::size_t asked, computed;
};

Timed by_predictor(const Board& board, const std::vector<Query>& queries, const std::vector<std::vector<Fault>>& sets) {
    const auto start = Ticks::now();
    const Predictor predictor(board, {});
    for (const auto& q : queries) predictor.predict_all(q, sets);
    return {seconds_since(start), queries.size() * sets.size(), predictor.solved()};
}

} // namespace

int main() {
    const Board board = demo_board();
    const auto queries = ohm_readings(board);

    // The table that the program needs: scenarios by probability.
    const RealDisk disk;
    const auto library = load_fault_library(disk, data_dir() / "fault-library.json");
    const auto scenarios = enumerate_scenarios(board, find_roles(board), *library, {}, {}, {});
    std::vector<std::vector<Fault>> likely;
    for (const auto& s : scenarios->scenarios)
        if (likely.size() < 2000) likely.push_back(s.faults());
    const auto table = by_predictor(board, queries, likely);
    std::printf("table of %zu scenarios x %zu readings: %.2f s, %.2f us a prediction asked, %zu of %zu computed, %.1f us each\n",
                likely.size(), queries.size(), table.seconds, table.seconds / static_cast<double>(table.asked) * 1e6, table.computed,
                table.asked, table.seconds / static_cast<double>(table.computed) * 1e6);

    // The same operating points by all three.
    const auto sets = random_fault_sets(board, 24);
    std::vector<Netlist> nets;
    std::vector<std::vector<Point>> points;
    std::size_t count = 0;
    for (const auto& set : sets) {
        nets.push_back(expand(board, {}, set));
        const DcSolver solver(nets.back());
        points.emplace_back();
        for (const auto& q : queries) {
            if (!solver.connected(q.red, q.black)) continue;
            const auto reading = read_dc(solver, {}, Quantity::Ohms, q.red, q.black);
            if (reading.over || !reading.converged) continue;
            const double amps = range_amps(reading.value);
            points.back().push_back({q.red, q.black, amps, solver.solve(q.red, q.black, amps, DcDetail::Volts).volts});
        }
        count += points.back().size();
    }
    const auto batch = by_batch(nets, points);
    const auto library_run = by_library(nets, points);
    // Ours, nothing remembered: a predictor of its own for every fault set.
    const auto start = Ticks::now();
    std::size_t ours = 0;
    for (std::size_t s = 0; s < sets.size(); ++s) {
        const Predictor predictor(board, {});
        for (const auto& p : points[s]) predictor.predict({Quantity::Ohms, p.red, p.black, -1, {}, 0}, sets[s]);
        ours += points[s].size();
    }
    const double cold = seconds_since(start) / static_cast<double>(ours);
    const double remembered = table.seconds / static_cast<double>(table.asked);
    const double each = library_run.seconds / static_cast<double>(count);
    std::printf("%zu operating points of %zu fault sets (worst difference %.2g relative, %zu answers)\n", count, sets.size(),
                library_run.worst, library_run.answers);
    std::printf("  ngspice, shared library    %8.1f us\n", each * 1e6);
    if (batch.seconds > 0)
        std::printf("  ngspice, batch             %8.1f us\n", batch.seconds / static_cast<double>(count) * 1e6);
    else
        std::printf("  ngspice, batch             not installed\n");
    std::printf("  ours, nothing remembered   %8.1f us: %.0f times the shared library", cold * 1e6, each / cold);
    if (batch.seconds > 0) std::printf(", %.0f times the batch", batch.seconds / static_cast<double>(count) / cold);
    std::printf("\n  ours, in the table         %8.2f us: %.0f times the shared library", remembered * 1e6, each / remembered);
    if (batch.seconds > 0) std::printf(", %.0f times the batch", batch.seconds / static_cast<double>(count) / remembered);
    std::printf("\n");

    for (const auto& [name, common] : std::vector<std::pair<const char*, std::set<std::string>>>{
             {"common grounds", {"PGND", "0V"}}, {"common grounds and rails", {"PGND", "0V", "HV", "+24V", "+5V"}}}) {
        double before = 0;
        for (int copies : {1, 2, 4}) {
            const Board grown = larger(board, copies, common);
            auto timed = by_predictor(grown, ohm_readings(grown), random_fault_sets(grown, 100));
            for (int again = 0; again < 2; ++again) // the best of three: what else the machine does only adds
                timed.seconds = std::min(timed.seconds, by_predictor(grown, ohm_readings(grown), random_fault_sets(grown, 100)).seconds);
            std::printf("%s, %3zu parts, 100 random fault sets, %zu readings: %.2f s%s\n", name, grown.parts.size(), timed.asked / 100,
                        timed.seconds, before > 0 ? fmt::format(" ({:.1f} times)", timed.seconds / before).c_str() : "");
            before = timed.seconds;
        }
    }
}
