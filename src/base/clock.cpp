// SPDX-License-Identifier: GPL-3.0-or-later
// Times by <chrono> and H. Hinnant's date library (ISO 8601, proleptic Gregorian calendar).
#include "base/clock.h"

#include <date/date.h>

#include <chrono>
#include <sstream>

namespace ohmo {

Seconds SystemClock::now() const {
    return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count();
}

std::string format_time(Seconds at) { return date::format("%FT%TZ", date::sys_seconds{std::chrono::seconds{at}}); }

Result<Seconds> parse_time(std::string_view text) {
    std::string zoned(text);
    if (zoned.ends_with('Z')) zoned.replace(zoned.size() - 1, 1, "+00:00");
    const std::size_t size = zoned.size(); // the library would also take "+1" and "+0100"
    const bool whole_zone = size > 6 && (zoned[size - 6] == '+' || zoned[size - 6] == '-') && zoned[size - 3] == ':';
    for (const char* form : {"%FT%T%Ez", "%FT%R%Ez"}) { // seconds are optional, and may have a fraction
        std::istringstream in(zoned);
        date::sys_time<std::chrono::nanoseconds> at;
        in >> date::parse(form, at);
        if (whole_zone && !in.fail() && in.peek() == std::istringstream::traits_type::eof())
            return Seconds{std::chrono::floor<std::chrono::seconds>(at).time_since_epoch().count()};
    }
    return Problem{ProblemKind::UnreadableTime, {}, std::string(text), "2026-03-02T09:14:00Z", 0, false};
}

} // namespace ohmo
