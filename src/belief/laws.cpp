// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/laws.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo::belief {
namespace {

constexpr double kFreedom = 5;
constexpr double kLeastSpread = 0.3; // of the logarithm, to which the least is known
constexpr double kBroadShare = 0.3;  // of the flat density that a reading in agreement may still borrow

} // namespace

double ln_bell(double e, double s) { return -0.5 * e * e - std::log(s * std::sqrt(2 * std::numbers::pi)); }

double ln_student(double e, double s) {
    static const double norm = std::lgamma((kFreedom + 1) / 2) - std::lgamma(kFreedom / 2) - 0.5 * std::log(kFreedom * std::numbers::pi);
    return -(kFreedom + 1) / 2 * std::log1p(e * e / kFreedom) - std::log(s) + norm;
}

double student_pull(double e2) { return (kFreedom + 1) / (kFreedom + e2); }

double student_cost(double e2) { return (kFreedom + 1) * std::log1p(e2 / kFreedom); }

Fall Fall::of(const Unknown& u, double value, bool in_circuit) {
    const double z = std::fabs(value - u.middle) / u.spread;
    if (u.tails == Tails::Straight && z > kTailsFrom) return {kTailsFrom * (2 * z - kTailsFrom), kTailsFrom / z};
    if (u.tails == Tails::Told && in_circuit && z > 1) return {1 + student_cost(z * z) - student_cost(1), student_pull(z * z)};
    return {z * z, 1};
}

double Fall::beyond(const Unknown& u, double value) const {
    const double z = (value - u.middle) / u.spread;
    return (z * z * pull - cost - std::log(pull)) / 2;
}

double least_cost(const Unknown& u, double value) {
    const double beyond = std::max(0.0, u.least - value) / kLeastSpread;
    return beyond * beyond;
}

double price_unheld(const Unknown& u, double unheld, double variance) {
    const double paid = unheld * unheld / variance / 2;
    return u.maybe ? std::min(paid, std::numbers::ln2) : paid;
}

double ln_beyond_bell(double miss, double noise, double pull, double slip, double broad) {
    const double as_read = std::log((1 - slip) * std::exp(ln_student(miss / noise, noise)) + slip * kBroadShare * std::exp(broad));
    const double spread = noise / std::sqrt(pull);
    return as_read - ln_bell(miss / spread, spread);
}

} // namespace ohmo::belief
