// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/live_check.h"

#include <algorithm>

namespace ohmo {

bool LiveCheck::must_stop() const {
    return std::any_of(figures.begin(), figures.end(), [](const CheckedFigure& f) { return f.outside(); });
}

LiveCheck live_check(const Ladder& ladder, const std::vector<LiveReading>& readings) {
    LiveCheck out;
    if (ladder.under_way < 0 || ladder.under_way >= static_cast<int>(ladder.steps.size())) return out;
    for (const auto& figure : ladder.steps[static_cast<std::size_t>(ladder.under_way)].figures) {
        CheckedFigure& checked = out.figures.emplace_back();
        checked.figure = figure;
        for (const auto& r : readings)
            if (r.where == figure.where && r.unit == figure.unit) checked.read = r.value;
    }
    return out;
}

} // namespace ohmo
