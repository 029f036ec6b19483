// SPDX-License-Identifier: GPL-3.0-or-later
// What a meter shows of something sound, from end to end of what is usual, and a reading held against it.
#pragma once
#include "readings/predictor.h"

namespace ohmo {

struct Shown {
    double low = 0, high = 0; ///< SI
    bool over = false;        ///< out of the meter's range
};

/// So many deviations either side of the prediction.
inline Shown shown_of(const Predictor& predictor, const Query& query, const std::vector<Fault>& faults, double deviations) {
    const auto p = predictor.predict(query, faults);
    return {score_value(query.what, p.x - deviations * p.sigma), score_value(query.what, p.x + deviations * p.sigma), p.over};
}

enum class Held { Fits, Low, High };
inline Held held(const Shown& sound, double value, bool over) {
    if (over || sound.over) return over == sound.over ? Held::Fits : over ? Held::High : Held::Low;
    return value < sound.low ? Held::Low : value > sound.high ? Held::High : Held::Fits;
}

} // namespace ohmo
