// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/board_options.h"
#include "job/board_files.h"
#include "job/replay.h"

namespace ohmo::cli {
namespace {

struct Options {
    std::string path, file;
    BoardOptions board;
    bool json = false;
};

void run(const Options& o, Context& context) {
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    const Board board = replay(loaded->job).board;
    Problems problems;
    const auto faults = o.board.faults(board, problems);
    const auto state = o.board.state(board, problems);
    if (has_errors(problems)) return context.fail(problems, o.json);
    const auto written = context.disk.write(o.file, board_as_spice(board, loaded->job.unit, state, faults));
    if (!written) return context.fail(written.problems(), o.json);
    if (o.json)
        context.print({{"written", o.file}});
    else
        context.out << o.file << "\n";
}

} // namespace

void add_spice(CLI::App& app, Context& context) {
    Command command(app, "spice", "The board as a SPICE netlist");
    auto o = std::make_shared<Options>();
    command.required("JOB", o->path);
    command.required("-o,--output", o->file);
    o->board.add_to(command);
    command.flag("--json", o->json);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
