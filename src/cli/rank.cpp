// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/triage_wording.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

void print_rank(const Analysis& a, std::ostream& out) {
    const Board& board = a.replay.board;
    out << "Suspects\n";
    for (const auto& b : a.assessment.parts) {
        if (b.bad < 0.005) break;
        out << fmt::format("  {:<8} {:>6}  {} ({}), {}\n", board.part(b.part).ref, format_share(b.bad),
                           wording::mode(board.part(b.part).kind, b.leading.mode), wording::part_role(board.part(b.part)),
                           wording::proof(b.proof));
    }
    out << "Stories\n";
    for (std::size_t i = 0; i < a.assessment.stories.size() && i < 5; ++i) {
        const auto& s = a.assessment.stories[i];
        out << fmt::format("  {:>6}", format_share(s.p));
        if (s.scenario.steps.empty()) out << "  nothing on the board is wrong";
        for (const auto& step : s.scenario.steps)
            out << (&step == &s.scenario.steps.front() ? "  " : " -> ") << wording::fault(board, step.fault);
        out << "\n";
    }
    out << fmt::format("Supply good {}, not on the map {}\n", format_share(a.assessment.supply_good),
                       format_share(a.assessment.unexplained));
    if (a.triage.verdict != Verdict::NothingSaid)
        out << wording::verdict_title(a.triage) << ". " << wording::verdict_text(a.triage) << "\n";
    out << wording::acquitted(a.assessment) << "\n";
    if (const auto over = wording::looked_over(a.assessment); !over.empty()) out << over << "\n";
    for (const auto& l : a.assessment.learned) out << "Learned: " << wording::learned(board, l) << "\n";
    for (int entry : a.assessment.contradicted_by)
        out << fmt::format("Contradicts the leading story: entry {} ({})\n", entry,
                           wording::entry(board, a.job.journal[static_cast<std::size_t>(entry)]));
}

void add_rank(CLI::App& app, Context& context) {
    add_analysis_command(app, context, "rank", "Suspects and stories with their odds", answers::rank, print_rank);
}

} // namespace ohmo::cli
