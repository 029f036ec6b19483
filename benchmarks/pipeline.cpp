// SPDX-License-Identifier: GPL-3.0-or-later
// What the technician waits for on the demo: the first answer of a board, and the answer after one more reading.
#include "job/pipeline.h"
#include "base/disk.h"
#include "belief/belief.h"
#include "belief/elimination.h"
#include "board/roles.h"
#include "damage/enumerate.h"
#include "job/act_entries.h"

#include "circuit/dc_solver.h"
#include "circuit/meter.h"

#include <benchmark/benchmark.h>
#include <fmt/format.h>

#include <algorithm>
#include <chrono>
#include <cstdio>
#include <cstdlib>
#include <functional>
#include <optional>
#include <set>
#include <string>
#include <vector>

namespace {

using namespace ohmo;

double seconds(const std::function<void()>& work) {
    const auto start = std::chrono::steady_clock::now();
    work();
    return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

Job demo(const char* name) {
    const RealDisk disk;
    const auto reader = JobReader::make(disk, data_dir());
    auto job = reader ? reader->load(disk, data_dir() / "demo" / name) : Result<LoadedJob>(reader.problems());
    if (!job) std::abort();
    return job->job;
}

Analyst analyst() {
    auto made = Analyst::make(RealDisk(), data_dir());
    if (!made) std::abort();
    return std::move(*made);
}

Entry reading(double ohms) {
    Entry e;
    e.act = Do::Read;
    e.what = "ohms";
    e.from = "HV";
    e.to = "PGND";
    e.value = ohms;
    return e;
}

// The job after the act that was suggested first, answered as a board with these faults would; nothing when the program asks no more.
std::optional<Job> answered(const Job& job, const Analysis& a, const std::vector<Fault>& hidden) {
    for (const auto& act : a.next.acts) {
        if (act.act != Act::Look && (act.act != Act::Read || act.query.alone >= 0 || !act.to_lift.empty())) continue;
        Entry e = act_entries(a.replay.board, a.replay.evidence.meters, act).asked;
        if (act.act == Act::Look) {
            e.saw = "fine";
            return job.with(e);
        }
        const auto p = a.predictor->predict(act.query, hidden);
        e.over = p.over;
        if (!p.over) e.value = p.value;
        return job.with(e);
    }
    return std::nullopt;
}

// Stories that the first answer holds possible, those of most parts first.
std::vector<std::vector<Fault>> hidden_faults(const Analysis& a) {
    constexpr std::size_t most = 8;
    std::vector<std::vector<Fault>> out;
    for (const auto& story : a.assessment.stories) out.push_back(story.scenario.faults());
    std::stable_sort(out.begin(), out.end(), [](const auto& x, const auto& y) { return x.size() > y.size(); });
    if (out.size() > most) out.resize(most);
    if (out.empty() || out.front().empty()) std::abort();
    return out;
}

void first_answer(benchmark::State& state) {
    const Job job = demo("rb6-fresh.ohmo.json");
    for (auto _ : state) {
        auto fresh = analyst();
        benchmark::DoNotOptimize(fresh.analyse(job, {}));
    }
}
BENCHMARK(first_answer)->Unit(benchmark::kMillisecond)->Iterations(3);

// The same journal again and again, its answer after the first entry and after the fiftieth: what a long job costs.
void answer_after(benchmark::State& state) {
    auto warm = analyst();
    Job job = demo("rb6-half-way.ohmo.json");
    const auto start = warm.analyse(job, {});
    if (!start) std::abort();
    const auto truth = (*start)->assessment.stories.front().scenario.faults();
    const auto& roles = *(*start)->replay.roles;
    std::size_t part = 0;
    while (static_cast<int>(job.journal.size()) < state.range(0) && part < job.board.parts.size()) {
        for (const auto& [red, black] : roles.lead_pairs[part]) {
            if (red < 0 || black < 0 || red == black) continue;
            Entry e;
            e.act = Do::Read;
            e.what = "ohms";
            e.from = job.board.net_name(red);
            e.to = job.board.net_name(black);
            const auto p = (*start)->predictor->predict({Quantity::Ohms, red, black, -1, (*start)->replay.evidence.state, 0}, truth);
            e.over = p.over;
            if (!p.over) e.value = p.value;
            job = job.with(e);
        }
        ++part;
    }
    double states = 0;
    for (auto _ : state) {
        const auto a = warm.analyse(job, {});
        if (!a) std::abort();
        states = static_cast<double>((*a)->assessment.belief->states());
    }
    state.counters["entries"] = static_cast<double>(job.journal.size());
    state.counters["states"] = states;
}
BENCHMARK(answer_after)->Arg(1)->Arg(20)->Arg(50)->Unit(benchmark::kMillisecond)->Iterations(5);

Job discharged(const Job& job) {
    Entry discharge;
    discharge.act = Do::Discharge;
    discharge.value = 0.3;
    return job.with(discharge);
}

// The acts of whole games, one after the other, on a board that is remembered.
void read_on(benchmark::State& state, const Job& start) {
    auto warm = analyst();
    Job job = start;
    std::shared_ptr<const Analysis> last;
    const auto ahead = [&] {
        const auto a = warm.analyse(job, {});
        if (!a) std::abort();
        last = *a;
    };
    ahead();
    const auto hidden = hidden_faults(*last);
    std::size_t game = 0;
    double slowest = 0;
    for (auto _ : state) {
        state.PauseTiming();
        auto more = answered(job, *last, hidden[game % hidden.size()]);
        for (; !more; more = answered(job, *last, hidden[game % hidden.size()])) { // this one is found
            ++game;
            job = start;
            ahead();
        }
        job = std::move(*more);
        state.ResumeTiming();
        slowest = std::max(slowest, seconds([&] { benchmark::DoNotOptimize(warm.analyse(job, {})); }));
        state.PauseTiming();
        ahead();
        state.ResumeTiming();
    }
    state.counters["slowest_ms"] = 1e3 * slowest;
}

void one_more_reading(benchmark::State& state) { read_on(state, discharged(demo("rb6-fresh.ohmo.json"))); }
BENCHMARK(one_more_reading)->Unit(benchmark::kMillisecond)->Iterations(30);

// One that no story expected, on a board that is remembered.
void a_surprising_reading(benchmark::State& state) {
    const Job job = demo("rb6-half-way.ohmo.json");
    for (auto _ : state) {
        state.PauseTiming();
        auto warm = analyst();
        const auto before = warm.analyse(job, {});
        if (!before) std::abort();
        state.ResumeTiming();
        benchmark::DoNotOptimize(warm.analyse(job.with(reading(2.0)), {}));
    }
}
BENCHMARK(a_surprising_reading)->Unit(benchmark::kMillisecond)->Iterations(3);

void scenarios_only(benchmark::State& state) {
    const Job job = demo("rb6-fresh.ohmo.json");
    const auto helper = analyst();
    for (auto _ : state) benchmark::DoNotOptimize(enumerate_scenarios(job.board, find_roles(job.board), helper.library(), {}, {}, {}));
}
BENCHMARK(scenarios_only)->Unit(benchmark::kMillisecond)->Iterations(3);

// The demo with its secondary side several times over: one primary, many rails on the same windings, 260 parts and more.
Job large() {
    Job job = demo("rb6-fresh.ohmo.json");
    Board board = job.board;
    std::vector<Part> secondary;
    std::set<std::string> common = {"0V"};
    for (const auto& part : board.parts) {
        const bool copied = part.stage == "rectify-out" || part.stage == "smooth" || part.stage == "rails";
        if (copied)
            secondary.push_back(part);
        else
            for (const auto& pin : part.pins) common.insert(pin.net);
    }
    for (int copy = 1; board.parts.size() < 260; ++copy)
        for (Part part : secondary) {
            part.ref += fmt::format("_{}", copy);
            for (auto& pin : part.pins)
                if (!common.contains(pin.net)) pin.net += fmt::format("_{}", copy);
            board.parts.push_back(std::move(part));
        }
    auto made = make_board(std::move(board));
    if (!made) std::abort();
    job.board = made->board;
    return discharged(job);
}

void large_first_answer(benchmark::State& state) {
    const Job job = large();
    for (auto _ : state) {
        auto fresh = analyst();
        benchmark::DoNotOptimize(fresh.analyse(job, {}));
    }
}
BENCHMARK(large_first_answer)->Unit(benchmark::kMillisecond)->Iterations(2);

void large_one_more_reading(benchmark::State& state) { read_on(state, large()); }
BENCHMARK(large_one_more_reading)->Unit(benchmark::kMillisecond)->Iterations(10);

// What the interface thread does for every line of the journal.
void replay_fifty_entries(benchmark::State& state, Job job) {
    while (job.journal.size() < 50) job = job.with(reading(41.2));
    for (auto _ : state) benchmark::DoNotOptimize(replay(job));
}
void replay_of_fifty(benchmark::State& state) { replay_fifty_entries(state, demo("rb6-half-way.ohmo.json")); }
BENCHMARK(replay_of_fifty)->Unit(benchmark::kMillisecond);
void large_replay_of_fifty(benchmark::State& state) { replay_fifty_entries(state, large()); }
BENCHMARK(large_replay_of_fifty)->Unit(benchmark::kMillisecond);

// The straightforward way: every scenario's board expanded and factored, then read. A sample of it, scaled to all scenarios and readings.
void against_the_straightforward() {
    const Job job = demo("rb6-half-way.ohmo.json");
    auto warm = analyst();
    const auto before = warm.analyse(job, {});
    if (!before) std::abort();
    const auto answer = answered(job, **before, (*before)->assessment.stories.front().scenario.faults());
    if (!answer) std::abort();
    const Job& more = *answer;
    std::shared_ptr<const Analysis> after;
    const double ours = seconds([&] { after = *warm.analyse(more, {}); });
    const auto set = enumerate_scenarios(job.board, find_roles(job.board), warm.library(), after->replay.evidence.history, {}, {});
    const auto& seen = after->replay.evidence.observations;
    constexpr std::size_t sample = 100;
    double nothing = 0;
    std::size_t readings = 0;
    const double one = seconds([&] {
        for (std::size_t k = 0; k < sample; ++k) {
            const auto& scenario = set->scenarios[k * set->scenarios.size() / sample];
            for (const auto& o : seen) {
                if (o.kind != Seen::Reading || !is_direct(o.query.what) || o.query.alone >= 0) continue;
                const DcSolver solver(expand(job.board, o.query.state, scenario.faults()));
                nothing += read_dc(solver, {}, o.query.what, o.query.red, o.query.black).value;
                ++readings;
            }
        }
    });
    benchmark::DoNotOptimize(nothing);
    const double each = one / static_cast<double>(readings);
    const double all = each * static_cast<double>(set->scenarios.size()) * static_cast<double>(readings) / sample;
    std::printf(
        "one more reading, %zu scenarios: ours %.0f ms with the next readings ranked; straightforward, all readings so far against all "
        "scenarios, from a sample, nothing ranked: %.1f s, %.0f times as long\n",
        set->scenarios.size(), 1e3 * ours, all, all / ours);
}

// The nodal matrix of the demo's largest island, inverted as the belief does it and by the library's dense Cholesky.
belief::Circuit largest_island(const belief::Belief& of) {
    belief::Circuit out;
    for (const auto& island : of.model().islands)
        if (island.circuit.nodes > out.nodes) out = island.circuit;
    return out;
}

void elimination_against_dense() {
    auto warm = analyst();
    const auto analysis = warm.analyse(demo("rb6-half-way.ohmo.json"), {});
    if (!analysis) std::abort();
    const auto circuit = largest_island(*(*analysis)->assessment.belief);
    const belief::Elimination order(circuit);
    const auto each = [&](const auto& stamp) {
        double siemens = 0.01;
        for (const auto& c : circuit.conductors) stamp(c.a, c.b, siemens *= 0.97);
    };
    constexpr int kTimes = 400;
    const double sparse = seconds([&] {
        for (int k = 0; k < kTimes; ++k) {
            belief::Eliminated<double> g(order, 1e-6);
            each([&](int a, int b, double s) { g.add(a, b, s); });
            g.eliminate();
            benchmark::DoNotOptimize(g.inverse());
        }
    });
    const double dense = seconds([&] {
        for (int k = 0; k < kTimes; ++k) {
            Eigen::MatrixXd g = 1e-6 * Eigen::MatrixXd::Identity(circuit.nodes, circuit.nodes);
            each([&](int a, int b, double s) {
                g(a, a) += s;
                g(b, b) += s;
                g(a, b) -= s;
                g(b, a) -= s;
            });
            benchmark::DoNotOptimize(Eigen::MatrixXd(g.llt().solve(Eigen::MatrixXd::Identity(circuit.nodes, circuit.nodes))));
        }
    });
    std::printf("%d nodes inverted: by elimination in order %.1f us, dense %.1f us: %.1f times\n", circuit.nodes, sparse / kTimes * 1e6,
                dense / kTimes * 1e6, dense / sparse);
}

} // namespace

int main(int argc, char** argv) {
    benchmark::Initialize(&argc, argv);
    benchmark::RunSpecifiedBenchmarks();
    against_the_straightforward();
    elimination_against_dense();
}
