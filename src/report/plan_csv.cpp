// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/plan_csv.h"

#include "base/csv.h"
#include "report/wording.h"

#include <fmt/format.h>

namespace ohmo {

std::string plan_csv(const Analysis& a) {
    std::string out = csv_line({"ref", "value", "reason", "choice", "price", "stage"});
    for (const auto& l : a.plan.lines) {
        const auto& part = a.replay.board.part(l.part);
        out += csv_line({part.ref, part.value, wording::replace_reason(a.replay.board, l),
                         l.choice     ? l.choice->id
                         : l.resolder ? "resolder"
                                      : "to order",
                         l.choice ? fmt::format("{:.2f}", l.choice->price) : std::string(), std::to_string(l.stage)});
    }
    return out;
}

} // namespace ohmo
