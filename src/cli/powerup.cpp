// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/engineering.h"
#include "cli/command.h"
#include "report/answers.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo::cli {

void add_powerup(CLI::App& app, Context& context) {
    Command command(app, "powerup", "The power-up ladder and the locks that still hold");
    auto path = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command.required("JOB", *path);
    command.flag("--json", *json);
    command.run([&context, path, json] {
        const auto a = context.analyse(*path, *json);
        if (!a) return;
        if (*json) {
            context.print(answers::powerup(*a));
            return;
        }
        context.out << (a->ladder.locked ? "Locked. Mains stays out until:\n" : "Cold evidence is complete.\n");
        for (const auto& lock : a->ladder.locks)
            context.out << fmt::format("  [{}] {}\n", lock.open ? "open" : "held", wording::lock(a->replay.board, lock));
        int number = 0;
        for (const auto& step : a->ladder.steps) {
            context.out << fmt::format("{:>2}. {} ({}) - {}\n", ++number, wording::ladder_step(step), step_state_name(step.state),
                                       wording::ladder_detail(step));
            for (const auto& f : step.figures)
                context.out << fmt::format("      {:<22} {} … {}\n", wording::figure_name(f), format_quantity(f.lo, f.unit),
                                           format_quantity(f.hi, f.unit));
        }
        context.out
            << "Stop at once: a figure outside its band, smell, hiss, tick, a lamp that stays bright, current that climbs.\n"
               "Isolation transformer on the primary; local rules and a competent person decide whether this may be powered at all.\n";
    });
}

} // namespace ohmo::cli
