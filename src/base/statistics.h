// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include <cmath>

namespace ohmo {

inline double normal_cdf(double z) { return 0.5 * std::erfc(-z / std::sqrt(2.0)); }

inline double normal_density(double x, double mean, double sigma) {
    const double z = (x - mean) / sigma;
    return std::exp(-0.5 * z * z) / (sigma * std::sqrt(2.0 * M_PI));
}

/// Chance that a stress exceeds a limit whose natural logarithm is spread by `sigma_ln`, `ratio` being stress over median limit.
inline double exceedance(double ratio, double sigma_ln) { return ratio <= 0 ? 0.0 : normal_cdf(std::log(ratio) / sigma_ln); }

} // namespace ohmo
