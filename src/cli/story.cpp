// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

void add_story(CLI::App& app, Context& context) {
    Command command(app, "story", "The likeliest damage chain, step by step");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command.required("JOB", *path);
    command.flag("--json", *json);
    command.run([&context, path, json] {
        const auto a = context.analyse(*path, *json);
        if (!a) return;
        if (*json) {
            context.print(answers::story(*a));
            return;
        }
        if (a->assessment.stories.empty()) return;
        const auto& s = a->assessment.stories.front();
        context.out << "Likeliest story, " << format_share(s.p) << "\n";
        int number = 0;
        for (const auto& step : s.scenario.steps)
            context.out << fmt::format("{:>3}. {}: {}\n", ++number, wording::fault(a->replay.board, step.fault),
                                       wording::step(a->replay.board, step));
        if (!a->under_power.empty())
            context.out << "If switched on as it is: " << wording::under_power(a->replay.board, a->under_power.front()) << "\n";
    });
}

} // namespace ohmo::cli
