// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

namespace {

void print_act(const Board& board, const NextAct& act, std::ostream& out) {
    out << fmt::format("{:.2f} bit in {:.1f} min  {}\n", act.bits, act.minutes, wording::act_title(board, act));
    for (const auto& b : act.bands) {
        if (b.p < 0.01 && !b.healthy) continue;
        out << fmt::format("    {:>5}  {:<28} {}\n", format_share(b.p), wording::band_range(act, b), wording::band_label(board, act, b));
    }
    if (const auto hunt = wording::parts_suspects(board, act); !hunt.empty()) out << "    " << hunt << "\n";
}

} // namespace

void print_next(const Analysis& a, std::ostream& out) {
    const Board& board = a.replay.board;
    for (const auto& w : a.work)
        if (w.state != WorkState::Passed)
            out << (w.state == WorkState::Failed    ? "Work not right: "
                    : w.state == WorkState::Waiting ? "Prove the work later, when what is bad beside it is out: "
                                                    : "Prove the work: ")
                << wording::work_check(board, w.check) << "\n    " << wording::work_tells(board, w.check) << "\n";
    for (const auto& act : a.next.acts) print_act(board, act, out);
    if (!a.live_next.empty()) out << "While it is on. " << wording::live_caution(a) << "\n";
    for (const auto& act : a.live_next) print_act(board, act, out);
    if (const auto trace = wording::trace(a); !trace.empty()) out << trace << "\n";
    if (a.next.stop || a.next.acts.empty()) out << wording::stop(a.next.reason) << "\n";
}

void add_next(CLI::App& app, Context& context) {
    add_analysis_command(app, context, "next", "What to read next, best first", answers::next, print_next);
}

} // namespace ohmo::cli
