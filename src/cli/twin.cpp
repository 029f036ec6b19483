// SPDX-License-Identifier: GPL-3.0-or-later
#include "cli/command.h"
#include "report/answers.h"
#include "report/twin_words.h"

#include <fmt/format.h>

namespace ohmo::cli {

void add_twin(CLI::App& app, Context& context) {
    Command command(app, "twin", "A good unit of the same kind beside this one: what both read at the same places");
    auto here = std::make_shared<std::string>(), there = std::make_shared<std::string>();
    auto json = std::make_shared<bool>(false);
    command.required("JOB", *here).required("GOOD", *there).flag("--json", *json);
    command.run([&context, here, there, json] {
        const auto mine = context.load(*here, *json);
        const auto good = mine ? context.load(*there, *json) : std::nullopt;
        if (!good) return;
        const auto rows = compare_with_twin(replay(mine->job), replay(good->job));
        if (*json) return context.print(answers::twin(rows));
        for (const auto& row : rows)
            context.out << fmt::format("{:<44} {:>12} {:>12}  {}\n", wording::twin_place(row.place),
                                       wording::twin_reading(row.place.what, row.here), wording::twin_reading(row.place.what, row.there),
                                       wording::twin_says(row));
        context.out << wording::twin_sum(rows) << "\n";
    });
}

} // namespace ohmo::cli
