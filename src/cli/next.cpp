// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

void print_next(const Analysis& a, std::ostream& out) {
    const Board& board = a.replay.board;
    for (const auto& w : a.work)
        if (w.state != WorkState::Passed)
            out << (w.state == WorkState::Failed    ? "Work not right: "
                    : w.state == WorkState::Waiting ? "Prove the work later, when what is bad beside it is out: "
                                                    : "Prove the work: ")
                << wording::work_check(board, w.check) << "\n    " << wording::work_tells(board, w.check) << "\n";
    for (const auto& act : a.next.acts) {
        out << fmt::format("{:.2f} bit in {:.1f} min  {}\n", act.bits, act.minutes, wording::act_title(board, act));
        for (const auto& b : act.bands) {
            if (b.p < 0.01 && !b.healthy) continue;
            std::string range = b.over             ? "over range"
                                : !b.looks.empty() ? b.looks.front()
                                                   : format_quantity(b.lo, wording::unit(act.query.what)) + " … " +
                                                         format_quantity(b.hi, wording::unit(act.query.what));
            out << fmt::format("    {:>5}  {:<28} {}\n", format_share(b.p), range, wording::band_label(board, act, b));
        }
        if (const auto hunt = wording::parts_suspects(board, act); !hunt.empty()) out << "    " << hunt << "\n";
    }
    if (const auto trace = wording::trace(a); !trace.empty()) out << trace << "\n";
    if (a.next.stop || a.next.acts.empty()) out << wording::stop(a.next.reason) << "\n";
}

void add_next(CLI::App& app, Context& context) {
    add_analysis_command(app, context, "next", "What to read next, best first", answers::next, print_next);
}

} // namespace ohmo::cli
