// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/clock.h"

#include <fmt/format.h>

#include <chrono>
#include <cstdio>

namespace ohmo {

Seconds SystemClock::now() const {
    return std::chrono::duration_cast<std::chrono::seconds>(std::chrono::system_clock::now().time_since_epoch()).count();
}

std::string format_time(Seconds at) {
    using namespace std::chrono;
    const sys_seconds point{seconds{at}};
    const auto day = floor<days>(point);
    const year_month_day date{day};
    const hh_mm_ss time{point - day};
    return fmt::format("{:04}-{:02}-{:02}T{:02}:{:02}:{:02}Z", int(date.year()), unsigned(date.month()), unsigned(date.day()),
                       time.hours().count(), time.minutes().count(), time.seconds().count());
}

Result<Seconds> parse_time(std::string_view text) {
    const Problem unreadable{ProblemKind::UnreadableTime, {}, std::string(text), "2026-03-02T09:14:00Z", 0, false};
    int y = 0, mo = 0, d = 0, h = 0, mi = 0, s = 0, used = 0;
    const std::string copy(text);
    if (std::sscanf(copy.c_str(), "%4d-%2d-%2dT%2d:%2d%n", &y, &mo, &d, &h, &mi, &used) < 5) return unreadable; // NOLINT(cert-err34-c)
    std::size_t at = static_cast<std::size_t>(used);
    if (at < copy.size() && copy[at] == ':') {
        int more = 0;
        if (std::sscanf(copy.c_str() + at, ":%2d%n", &s, &more) < 1) return unreadable; // NOLINT(cert-err34-c)
        at += static_cast<std::size_t>(more);
        if (at < copy.size() && copy[at] == '.') do
                ++at;
            while (at < copy.size() && copy[at] >= '0' && copy[at] <= '9');
    }
    int offset_h = 0, offset_m = 0;
    char sign = '+';
    const std::string zone = copy.substr(at);
    if (zone != "Z" && std::sscanf(zone.c_str(), "%c%2d:%2d", &sign, &offset_h, &offset_m) < 3) return unreadable; // NOLINT(cert-err34-c)
    using namespace std::chrono;
    const year_month_day date{year{y}, month{unsigned(mo)}, day{unsigned(d)}};
    if (!date.ok() || h > 23 || mi > 59 || s > 60 || h < 0 || mi < 0 || s < 0) return unreadable;
    const Seconds offset = (offset_h * 60 + offset_m) * 60;
    return Seconds{sys_days{date}.time_since_epoch() / seconds{1}} + h * 3600 + mi * 60 + s - (sign == '-' ? -offset : offset);
}

} // namespace ohmo
