// SPDX-License-Identifier: GPL-3.0-or-later
#include "report/twin_words.h"

#include "base/engineering.h"
#include "base/text.h"
#include "readings/quantities.h"
#include "report/wording.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::wording {

std::string twin_place(const TwinPlace& place) {
    const std::string what(quantity_info(place.what).name);
    if (!place.alone.empty()) return fmt::format("{} {} {} to {}, lifted", what, place.alone, place.red, place.black);
    std::string out = fmt::format("{} {} to {}", what, place.red, place.black);
    if (!place.out.empty()) out += fmt::format(", {} out", joined(place.out, ", "));
    return out;
}

std::string twin_line(const TwinPlace& place) {
    const std::string word(quantity_info(place.what).word);
    if (place.alone.empty()) return fmt::format("{} {} {} ", place.red, place.black, word);
    return fmt::format("{} {}-{} {} lifted ", place.alone, place.red, place.black, word);
}

std::string twin_reading(Quantity what, const std::optional<TwinReading>& reading) {
    if (!reading) return {};
    return reading->over ? "over range" : format_quantity(reading->value, unit(what));
}

std::string twin_says(const TwinRow& row) {
    switch (row.like) {
    case Like::Same:
        return "✓ alike";
    case Like::OnlyThere:
        return "not read here";
    case Like::OnlyHere:
        return "";
    case Like::Higher:
    case Like::Lower:
        break;
    }
    const bool higher = row.like == Like::Higher;
    const std::string mark = higher ? "▲ " : "▼ ", word = higher ? "higher" : "lower";
    if (row.here->over || row.there->over) return mark + (higher ? "open here" : "open on the good unit");
    if (!quantity_info(row.place.what).logarithmic)
        return fmt::format("{}{:.2f} V {}", mark, std::abs(row.here->value - row.there->value), word);
    const double low = std::min(row.here->value, row.there->value), high = std::max(row.here->value, row.there->value);
    if (low <= 0) return mark + word;
    return high / low > 100 ? fmt::format("{}far {}", mark, word) : fmt::format("{}{:.2g} times {}", mark, high / low, word);
}

std::string twin_sum(const std::vector<TwinRow>& rows) {
    const auto count = [&](auto wanted) { return std::count_if(rows.begin(), rows.end(), wanted); };
    const auto odd = count([](const TwinRow& r) { return r.like == Like::Higher || r.like == Like::Lower; });
    const auto alike = count([](const TwinRow& r) { return r.like == Like::Same; });
    const auto there = count([](const TwinRow& r) { return r.like == Like::OnlyThere; });
    if (odd + alike + there == 0) return "Nothing was read on the good unit yet: open its job and read it at the same places.";
    if (odd + alike == 0) return "No place was read on both units yet.";
    std::string out = odd == 0 ? fmt::format("{} read alike on both units.", alike == 1 ? "One place" : fmt::format("{} places", alike))
                               : fmt::format("{} of {} places read otherwise than on the good unit.", odd, odd + alike);
    if (there > 0) out += fmt::format(" {} read there only.", there == 1 ? "One was" : fmt::format("{} were", there));
    return out;
}

} // namespace ohmo::wording
