// SPDX-License-Identifier: GPL-3.0-or-later
// E6..E24 are tabulated by the standard (they deviate from the rounded powers); E48 and E96 are round(10^(k/n), 3 figures).
// Source: IEC 60063, figures from memory.
#include "base/e_series.h"

#include <cmath>

namespace ohmo {

std::vector<double> e_series(int size) {
    static const std::vector<double> e24 = {1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
                                            3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1};
    std::vector<double> members;
    if (size == 6 || size == 12 || size == 24) {
        for (std::size_t k = 0; k < e24.size(); k += static_cast<std::size_t>(24 / size)) members.push_back(e24[k]);
    } else if (size == 48 || size == 96) {
        for (int k = 0; k < size; ++k) members.push_back(std::round(std::pow(10.0, 2.0 + double(k) / size)) / 100.0);
    }
    return members;
}

double nearest_preferred(double value, int size) {
    const double decade = std::pow(10.0, std::floor(std::log10(value)));
    double best = decade * 10;
    for (double m : e_series(size))
        if (std::fabs(std::log(m * decade / value)) < std::fabs(std::log(best / value))) best = m * decade;
    return best;
}

double preferred_at_least(double value, int size) {
    const double decade = std::pow(10.0, std::floor(std::log10(value)));
    for (double m : e_series(size))
        if (m * decade >= value * (1 - 1e-9)) return m * decade;
    return decade * 10;
}

} // namespace ohmo
