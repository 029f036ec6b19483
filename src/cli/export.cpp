// SPDX-License-Identifier: GPL-3.0-or-later
// The board for other programs: netlist, parts list, table for people.
#include "cli/command.h"
#include "job/board_files.h"
#include "job/replay.h"
#include "report/board_table.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

struct Options {
    std::string path, file;
    bool json = false;
};

void run(const Options& o, Context& context) {
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    const Board board = replay(loaded->job).board;
    const auto text = board_as(board, loaded->job.unit, o.file);
    if (!text) return context.fail(text.problems(), o.json);
    if (const auto written = context.disk.write(o.file, *text); !written) return context.fail(written.problems(), o.json);
    if (o.json)
        context.print({{"written", o.file}});
    else
        context.out << o.file << "\n";
}

} // namespace

void add_export(CLI::App& app, Context& context) {
    Command command(app, "export",
                    "The board as it was traced: a parts list (.csv), a table (.md) or a netlist that import reads back (.cir)");
    auto o = std::make_shared<Options>();
    command.required("JOB", o->path);
    command.required("-o,--output", o->file);
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
