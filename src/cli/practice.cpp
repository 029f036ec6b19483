// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/practice_list.h"

#include "cli/command.h"

namespace ohmo::cli {
namespace {

struct Options {
    bool json = false, markdown = false;
};

void run(const Options& o, Context& context) {
    const Path path = context.data / "practice.json";
    const auto text = context.disk.read(path, kLargestFile);
    if (!text) return context.fail(text.problems(), o.json);
    const auto file = parse_practice_file(*text, path.filename().string());
    if (!file) return context.fail(file.problems(), o.json);
    if (const auto taken = practice_of(*file, path.filename().string()); !taken) return context.fail(taken.problems(), o.json);
    if (o.json)
        context.print(practice_json(*file));
    else
        context.out << (o.markdown ? practice_markdown(*file) : practice_text(*file));
}

} // namespace

void add_practice(CLI::App& app, Context& context) {
    Command command(app, "practice", "Every figure that is a judgement of practice, with its source");
    auto o = std::make_shared<Options>();
    command.flag("--json", o->json);
    command.flag("--markdown", o->markdown);
    command.run([&context, o] { run(*o, context); });
}

} // namespace ohmo::cli
