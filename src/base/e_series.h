// SPDX-License-Identifier: GPL-3.0-or-later
// Preferred numbers of IEC 60063.
#pragma once
#include <vector>

namespace ohmo {

/// Members of one decade, 1.0 <= m < 10. `size` is 6, 12, 24, 48 or 96; anything else gives an empty list.
std::vector<double> e_series(int size);

/// The member nearest to `value` in ratio, any decade. `value` must be positive.
double nearest_preferred(double value, int size);

/// The smallest member not below `value`.
double preferred_at_least(double value, int size);

} // namespace ohmo
