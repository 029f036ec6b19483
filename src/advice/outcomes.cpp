// SPDX-License-Identifier: GPL-3.0-or-later
#include "advice/outcomes.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <map>

namespace ohmo {
namespace {

constexpr std::array<double, 5> kPoints = {-1.8, -0.8, 0, 0.8, 1.8}, kWeights = {0.09, 0.24, 0.34, 0.24, 0.09};
constexpr double kSlip = 0.03, kSlipDensity = 0.07; // of a reading that shows something else
constexpr double kAlike = 0.1, kAlikeSpread = 0.1;  // of a spread: two predictions that no reading tells apart

// Those of one story that lie on each other count as one.
std::vector<Outcome> merged(std::vector<Outcome> in) {
    std::sort(in.begin(), in.end(), [](const Outcome& a, const Outcome& b) { return a.story != b.story ? a.story < b.story : a.y < b.y; });
    std::vector<Outcome> out;
    for (const auto& o : in) {
        if (!out.empty() && out.back().story == o.story && std::fabs(o.y - out.back().y) < kAlike * o.spread &&
            std::fabs(o.spread / out.back().spread - 1) < kAlikeSpread)
            out.back().p += o.p;
        else
            out.push_back(o);
    }
    return out;
}

} // namespace

double entropy(double p) { return -p * std::log2(p) - (1 - p) * std::log2(1 - p); }

double reading_information(std::vector<Outcome> outcomes) {
    outcomes = merged(std::move(outcomes));
    double whole = 0;
    for (const auto& o : outcomes) whole += o.p;
    if (whole <= 0 || outcomes.size() < 2) return 0;
    std::map<int, double> story;
    for (auto& o : outcomes) story[o.story] += o.p /= whole;
    if (story.size() < 2) return 0;
    double nats = 0;
    for (const auto& o : outcomes)
        for (std::size_t k = 0; k < kPoints.size(); ++k) {
            const double y = o.y + kPoints[k] * o.spread;
            double all = kSlip * kSlipDensity, mine = kSlip * kSlipDensity * story[o.story];
            for (const auto& q : outcomes) {
                const double z = (y - q.y) / q.spread;
                if (z > 8 || z < -8) continue;
                const double l = (1 - kSlip) * 0.3989 * q.p * std::exp(-0.5 * z * z) / q.spread;
                all += l;
                if (q.story == o.story) mine += l;
            }
            nats += o.p * kWeights[k] * std::log(mine / story[o.story] / all);
        }
    return std::max(0.0, nats / std::log(2.0) * std::min(1.0, whole));
}

double word_information(const std::vector<WordCase>& cases) {
    double whole = 0, bits = 0;
    for (const auto& c : cases) whole += c.p;
    if (cases.empty() || whole <= 0) return 0;
    const std::size_t words = cases.front().chance.size();
    for (std::size_t w = 0; w < words; ++w) {
        double all = 0;
        for (const auto& c : cases) all += c.p / whole * c.chance[w];
        for (const auto& c : cases)
            if (c.chance[w] > 0 && all > 0) bits += c.p / whole * c.chance[w] * std::log2(c.chance[w] / all);
    }
    return std::max(0.0, bits);
}

} // namespace ohmo
