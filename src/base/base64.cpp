// SPDX-License-Identifier: GPL-3.0-or-later
#include "base/base64.h"

#include <cstdint>

namespace ohmo {

std::string base64(std::string_view bytes) {
    static constexpr std::string_view letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";
    std::string out;
    out.reserve((bytes.size() + 2) / 3 * 4);
    for (std::size_t i = 0; i < bytes.size(); i += 3) {
        std::uint32_t three = 0;
        for (std::size_t k = 0; k < 3; ++k)
            three = three << 8 | (i + k < bytes.size() ? static_cast<std::uint8_t>(bytes[i + k]) : std::uint8_t{0});
        for (std::size_t k = 0; k < 4; ++k) out += k <= bytes.size() - i ? letters[three >> (18 - 6 * k) & 63] : '=';
    }
    return out;
}

} // namespace ohmo
