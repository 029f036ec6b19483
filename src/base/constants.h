// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace ohmo {

inline constexpr double kThermalVolts = 0.0258649; ///< kT/q at 27 degC

} // namespace ohmo
