// SPDX-License-Identifier: GPL-3.0-or-later
// One job after the other, or one that grows: a path a line in, the document of `assess` a line out. What was computed for the board is
// kept between lines. Ends with its input; a job that cannot be read answers with its problems and the next line is taken.
#include "cli/command.h"
#include "report/answers.h"

#include <istream>

namespace ohmo::cli {

void add_follow(CLI::App& app, Context& context) {
    Command command(app, "follow", "the answer of assess, a line of JSON for each job's path read from standard input");
    command.run([&context] {
        int worst = kDone;
        for (std::string path; std::getline(context.in, path);) {
            if (!path.empty() && path.back() == '\r') path.pop_back();
            if (path.empty()) continue;
            context.one_line = true;
            context.code = kDone;
            if (const auto a = context.analyse(path, true)) context.print({{"rank", answers::rank(*a)}, {"next", answers::next(*a)}});
            worst = std::max(worst, context.code);
        }
        context.code = worst;
    });
}

} // namespace ohmo::cli
