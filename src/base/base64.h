// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <string>
#include <string_view>

namespace ohmo {

/// Bytes as text, for pictures inside a page: RFC 4648, section 4.
std::string base64(std::string_view bytes);

} // namespace ohmo
