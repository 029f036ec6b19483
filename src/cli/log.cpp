// SPDX-License-Identifier: GPL-3.0-or-later
// The bench line without the window: lines become entries of the job, all of them or none.
#include "base/text.h"
#include "cli/command.h"
#include "job/bench_line.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <istream>

namespace ohmo::cli {
namespace {

struct Options {
    std::string path;
    std::vector<std::string> lines;
    bool json = false;
};

void run(Options o, Context& context) {
    const auto reader = JobReader::make(context.disk, context.data);
    if (!reader) return context.fail(reader.problems(), o.json);
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    if (o.lines.size() == 1 && o.lines.front() == "-") {
        o.lines.clear();
        for (std::string line; std::getline(context.in, line);)
            if (const auto text = trimmed(line); !text.empty() && text.front() != '#') o.lines.push_back(text);
    }
    const SystemClock clock;
    Job job = loaded->job;
    std::vector<std::string> understood;
    for (std::size_t i = 0; i < o.lines.size(); ++i) {
        const auto now = replay(job);
        auto entry = parse_bench_line(bench_context(now, reader->vocabulary()), o.lines[i]);
        if (!entry) {
            Problems problems = entry.problems();
            for (auto& p : problems) p.place = fmt::format("line {}, {}{}", i + 1, o.lines[i], p.place.empty() ? "" : " " + p.place);
            return context.fail(problems, o.json);
        }
        entry->at = clock.now();
        understood.push_back(wording::understood(now.board, *entry));
        job = job.with(*entry);
    }
    if (const auto written = save_job(context.disk, o.path, job); !written) return context.fail(written.problems(), o.json);
    if (o.json) return context.print({{"written", o.path}, {"understood", understood}});
    for (const auto& line : understood) context.out << line << "\n";
}

} // namespace

void add_log(CLI::App& app, Context& context) {
    Command command(app, "log", "Log what the bench line would take, a LINE each (quoted); - reads lines from standard input");
    auto o = std::make_shared<Options>();
    command.required("JOB", o->path);
    command.required("LINE", o->lines);
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
