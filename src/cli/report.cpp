// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/record.h"

namespace ohmo::cli {

void add_report(CLI::App& app, Context& context) {
    auto* command = app.add_subcommand("report", "The written record");
    auto path = std::make_shared<std::string>();
    auto output = std::make_shared<std::string>();
    command->add_option("JOB", *path)->required();
    command->add_option("-o,--output", *output, "FILE.md or FILE.html")->required();
    command->callback([&context, path, output] {
        const auto a = context.analyse(*path, false);
        if (!a) return;
        const std::string ending = Path(*output).extension().string();
        if (ending != ".md" && ending != ".html") {
            context.fail({{ProblemKind::Usage, {}, *output, "FILE.md, FILE.html", 0, false}}, false);
            context.code = kUsage;
            return;
        }
        const auto written = context.disk.write(*output, ending == ".md" ? record_markdown(*a) : record_html(*a));
        if (!written) context.fail(written.problems(), false);
    });
}

} // namespace ohmo::cli
