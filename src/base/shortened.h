// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>

namespace ohmo {

/// At most that many bytes with "…" for the rest, never cut within a character of UTF-8.
inline std::string shortened(const std::string& text, std::size_t most) {
    if (text.size() <= most) return text;
    std::size_t end = most > 3 ? most - 3 : 0;
    while (end > 0 && (static_cast<unsigned char>(text[end]) & 0xC0) == 0x80) --end;
    return text.substr(0, end) + "…";
}

} // namespace ohmo
