// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/record.h"

namespace ohmo::cli {

void add_report(CLI::App& app, Context& context) {
    Command command(app, "report", "The written record");
    auto path = std::make_shared<std::string>();
    auto output = std::make_shared<std::string>();
    command.required("JOB", *path);
    command.required("-o,--output", *output);
    command.run([&context, path, output] {
        const auto a = context.analyse(*path, false);
        if (!a) return;
        const std::string ending = Path(*output).extension().string();
        if (ending != ".md" && ending != ".html") {
            context.fail({{ProblemKind::Usage, {}, *output, "FILE.md, FILE.html", 0, false}}, false);
            context.code = kUsage;
            return;
        }
        const auto pictures = record_pictures(context.disk, *path, *a);
        const auto written = context.disk.write(*output, ending == ".md" ? record_markdown(*a, pictures) : record_html(*a, pictures));
        if (!written) context.fail(written.problems(), false);
    });
}

} // namespace ohmo::cli
