// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "base/result.h"

#include <cstdint>
#include <string>
#include <string_view>

namespace ohmo {

/// Seconds since 1970-01-01T00:00:00Z.
using Seconds = std::int64_t;

class Clock {
public:
    virtual ~Clock() = default;
    virtual Seconds now() const = 0;
};

class SystemClock final : public Clock {
public:
    Seconds now() const override;
};

/// "2026-03-02T09:14:00Z".
std::string format_time(Seconds at);

/// Reads the same form, with Z or a +hh:mm offset, seconds optional. Errors: UnreadableTime.
Result<Seconds> parse_time(std::string_view text);

} // namespace ohmo
