// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

void print_story(const Analysis& a, std::ostream& out) {
    if (a.assessment.stories.empty()) return;
    const auto& s = a.assessment.stories.front();
    out << "Likeliest story, exactly so " << format_share(s.p) << "\n";
    int number = 0;
    for (const auto& step : s.scenario.steps)
        out << fmt::format("{:>3}. {}: {}\n", ++number, wording::fault(a.replay.board, step.fault), wording::step(a.replay.board, step));
    if (!a.under_power.empty()) out << "If switched on as it is: " << wording::under_power(a.replay.board, a.under_power.front()) << "\n";
}

} // namespace

void add_story(CLI::App& app, Context& context) {
    add_analysis_command(app, context, "story", "The likeliest damage chain, step by step", answers::story, print_story);
}

} // namespace ohmo::cli
