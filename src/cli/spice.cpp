// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/spice.h"

#include "cli/board_options.h"

#include <fmt/format.h>

#include <cctype>

namespace ohmo::cli {
namespace {

struct Options {
    std::string path, file;
    BoardOptions board;
    bool json = false;
};

std::string letters_and_digits(const std::string& name) {
    std::string out;
    for (char c : name) out += std::isalnum(static_cast<unsigned char>(c)) ? c : '_';
    return out;
}

// Net names with characters that SPICE takes for something else become underscores; two nets never become one.
std::vector<std::string> node_names(const Board& board, int nodes) {
    std::vector<std::string> names;
    for (int n = 0; n < nodes; ++n) {
        if (n >= static_cast<int>(board.nets.size())) {
            names.push_back(fmt::format("inner{}", n));
            continue;
        }
        std::string name = letters_and_digits(board.net_name(n));
        while (std::find(names.begin(), names.end(), name) != names.end()) name += "_";
        names.push_back(name == "0" ? "net0" : name);
    }
    return names;
}

void run(const Options& o, Context& context) {
    const auto loaded = context.load(o.path, o.json);
    if (!loaded) return;
    const Board& board = loaded->job.board;
    Problems problems;
    const auto faults = o.board.faults(board, problems);
    const auto state = o.board.state(board, problems);
    if (has_errors(problems)) return context.fail(problems, o.json);
    const Netlist net = expand(board, state, faults);
    const auto names = node_names(board, net.nodes);
    std::string text =
        fmt::format("* {}, {}\n* Nets keep their names, other characters than letters and digits as _; tie one of them to 0.\n",
                    loaded->job.unit.name, board.name);
    const auto node = [&](int n) { return names[static_cast<std::size_t>(n)]; };
    const auto ref = [&](int part) { return letters_and_digits(board.part(part).ref); };
    for (const auto& line : spice_lines(net, SpiceUse::Full, node, {}, ref)) text += line + "\n";
    text += ".end\n";
    if (const auto written = context.disk.write(o.file, text); !written) return context.fail(written.problems(), o.json);
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
