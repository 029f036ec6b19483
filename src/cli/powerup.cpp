// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {
namespace {

void print_live(const LiveCheck& live, std::ostream& out) {
    for (const auto& f : live.figures)
        if (f.read)
            out << fmt::format("Read in this step: {} {}{}\n", wording::figure_name(f.figure), format_quantity(*f.read, f.figure.unit),
                               f.outside() ? fmt::format(", outside {} … {}", format_quantity(f.figure.lo, f.figure.unit),
                                                         format_quantity(f.figure.hi, f.figure.unit))
                                           : std::string());
    if (live.must_stop()) out << "STOP: switch off, discharge, find out why before you go on.\n";
}

void print_ladder(const Analysis& a, std::ostream& out) {
    out << (a.ladder.locked ? "Locked. Mains stays out until:\n" : "Cold evidence is complete.\n");
    for (const auto& lock : a.ladder.locks)
        out << fmt::format("  [{}] {}\n", lock.open ? "open" : "held", wording::lock(a.replay.board, lock));
    int number = 0;
    for (const auto& step : a.ladder.steps) {
        out << fmt::format("{:>2}. {} ({}) - {}\n", ++number, wording::ladder_step(step), step_state_name(step.state),
                           wording::ladder_detail(step));
        for (const auto& f : step.figures)
            out << fmt::format("      {:<22} {} … {}\n", wording::figure_name(f), format_quantity(f.lo, f.unit),
                               format_quantity(f.hi, f.unit));
    }
    print_live(a.live, out);
    out << "Stop at once: a figure outside its band, smell, hiss, tick, a lamp that stays bright, current that climbs.\n"
           "Isolation transformer on the primary; local rules and a competent person decide whether this may be powered at all.\n";
}

} // namespace

void add_powerup(CLI::App& app, Context& context) {
    add_analysis_command(app, context, "powerup", "The power-up ladder and the locks that still hold", answers::powerup, print_ladder);
}

} // namespace ohmo::cli
