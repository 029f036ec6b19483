// SPDX-License-Identifier: GPL-3.0-or-later
// What the technician waits for on the demo: the first answer of a board, and the answer after one more reading.
#include "base/disk.h"
#include "job/analysis.h"

#include <benchmark/benchmark.h>

#include <cstdlib>

namespace {

using namespace ohmo;

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

void first_answer(benchmark::State& state) {
    const Job job = demo("rb6-fresh.ohmo.json");
    for (auto _ : state) {
        auto fresh = analyst();
        benchmark::DoNotOptimize(fresh.analyse(job, {}));
    }
}
BENCHMARK(first_answer)->Unit(benchmark::kMillisecond)->Iterations(3);

void first_look(benchmark::State& state) {
    const Job job = demo("rb6-fresh.ohmo.json");
    for (auto _ : state) {
        auto fresh = analyst();
        benchmark::DoNotOptimize(fresh.first_look(job, {}));
    }
}
BENCHMARK(first_look)->Unit(benchmark::kMillisecond)->Iterations(5);

void prepare(benchmark::State& state) {
    const Job job = demo("rb6-half-way.ohmo.json");
    for (auto _ : state) {
        state.PauseTiming();
        auto fresh = analyst();
        const auto a = fresh.analyse(job, {});
        if (!a) std::abort();
        state.ResumeTiming();
        benchmark::DoNotOptimize(fresh.prepare(**a, {}));
    }
}
BENCHMARK(prepare)->Unit(benchmark::kMillisecond)->Iterations(2);

// A reading not seen before each time, on a board whose scenarios and predictions are remembered.
void one_more_reading(benchmark::State& state) {
    const Job job = demo("rb6-half-way.ohmo.json");
    auto warm = analyst();
    const auto before = warm.analyse(job, {});
    if (!before || !warm.prepare(**before, {})) std::abort(); // what the program does while the technician reads the meter
    double ohms = 2.0;
    for (auto _ : state) {
        ohms *= 1.01;
        benchmark::DoNotOptimize(warm.analyse(job.with(reading(ohms)), {}));
    }
}
BENCHMARK(one_more_reading)->Unit(benchmark::kMillisecond)->MinTime(2);

void scenarios_only(benchmark::State& state) {
    const Job job = demo("rb6-fresh.ohmo.json");
    const auto helper = analyst();
    for (auto _ : state) benchmark::DoNotOptimize(enumerate_scenarios(job.board, helper.library(), {}, {}, {}));
}
BENCHMARK(scenarios_only)->Unit(benchmark::kMillisecond)->Iterations(3);

} // namespace

BENCHMARK_MAIN();
