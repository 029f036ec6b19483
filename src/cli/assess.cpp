// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/answers.h"

namespace ohmo::cli {

void add_assess(CLI::App& app, Context& context) {
    add_analysis_command(
        app, context, "assess", "rank and next in one answer",
        [](const Analysis& a) {
            return nlohmann::ordered_json{{"rank", answers::rank(a)}, {"next", answers::next(a)}};
        },
        [](const Analysis& a, std::ostream& out) {
            print_rank(a, out);
            out << "Next\n";
            print_next(a, out);
        });
}

} // namespace ohmo::cli
