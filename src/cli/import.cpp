// SPDX-License-Identifier: GPL-3.0-or-later
// Boards from elsewhere: a SPICE netlist or a parts list becomes a fresh job.
#include "base/text.h"
#include "cli/command.h"
#include "job/board_files.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Options {
    std::string file, output;
    bool json = false;
};

void run(const Options& o, Context& context) {
    if (context.disk.exists(o.output)) {
        context.err << fmt::format("{} is there already and was left alone; choose another name.\n", o.output);
        context.code = kFile;
        return;
    }
    const auto text = context.disk.read(o.file, kLargestFile);
    if (!text) return context.fail(text.problems(), o.json);
    auto imported = import_board(o.file, *text);
    if (!imported) {
        Problems problems = imported.problems();
        for (auto& p : problems)
            if (p.place != o.file) p.place = p.place.empty() ? o.file : o.file + " " + p.place;
        return context.fail(problems, o.json);
    }
    const Job job = job_of_board(imported->board);
    if (const auto written = save_job(context.disk, o.output, job); !written) return context.fail(written.problems(), o.json);
    auto left_out = nlohmann::ordered_json::array();
    for (const auto& line : imported->ignored) left_out.push_back(wording::ignored(line));
    for (const auto& warning : imported->warnings) left_out.push_back(wording::problem(warning));
    if (o.json)
        return context.print({{"written", o.output},
                              {"parts", imported->board.parts.size()},
                              {"rails", imported->board.rails.size()},
                              {"ignored", left_out}});
    context.out << fmt::format("{}: {} parts, {} rails\n", o.output, imported->board.parts.size(), imported->board.rails.size());
    for (const auto& line : left_out) context.out << "  left out: " << line.get<std::string>() << "\n";
}

} // namespace

void add_import(CLI::App& app, Context& context) {
    Command command(app, "import", "A fresh job from a SPICE netlist (.cir, .net, .sp) or a parts list (.csv, .tsv)");
    auto o = std::make_shared<Options>();
    command.required("FILE", o->file);
    command.required("-o,--output", o->output);
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
