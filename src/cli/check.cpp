// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "job/replay.h"
#include "report/answers.h"

namespace ohmo::cli {

void add_check(CLI::App& app, Context& context) {
    Command command(app, "check", "Validates a job");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command.required("JOB", *path);
    command.flag("--json", *json);
    command.run([&context, path, json] {
        const auto loaded = context.load(*path, *json);
        if (!loaded) return;
        context.fail(loaded->warnings, *json);
        if (!*json)
            context.out << *path << ": no errors, " << loaded->warnings.size() << " warnings, " << replay(loaded->job).board.parts.size()
                        << " parts, " << loaded->job.journal.size() << " entries\n";
    });
}

} // namespace ohmo::cli
