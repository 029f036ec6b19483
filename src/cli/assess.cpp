// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/answers.h"

namespace ohmo::cli {

void add_assess(CLI::App& app, Context& context) {
    Command command(app, "assess", "rank and next in one answer");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command.required("JOB", *path);
    command.flag("--json", *json);
    command.run([&context, path, json] {
        const auto a = context.analyse(*path, *json);
        if (!a) return;
        if (*json) {
            context.print({{"rank", answers::rank(*a)}, {"next", answers::next(*a)}});
            return;
        }
        print_rank(*a, context.out);
        context.out << "Next\n";
        print_next(*a, context.out);
    });
}

} // namespace ohmo::cli
