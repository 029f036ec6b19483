// SPDX-License-Identifier: GPL-3.0-or-later
#include "design/sums.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr int kMoreTurns = 4; // that are tried beyond twice the least

} // namespace

double crest_volts(double volts_rms) { return volts_rms * std::numbers::sqrt2; }

double bulk_farads_for(double watts, double crest, double valley, double hertz, double period) {
    const double arc = std::acos(valley / crest) / (2 * std::numbers::pi * hertz);
    return 2 * watts * (period - arc) / (crest * crest - valley * valley);
}

double bleeder_ohms(double farads, double volts, double to_volts, double seconds) {
    return seconds / (farads * std::log(volts / to_volts));
}

FlybackSums flyback_sums(double watts, double valley, double reflected, double hertz, double leakage_share, double clamp_volts) {
    FlybackSums s;
    s.duty = reflected / (reflected + valley);
    s.peak_amps = 2 * watts / (valley * s.duty);
    s.henry = valley * s.duty / (s.peak_amps * hertz);
    s.rms_amps = s.peak_amps * std::sqrt(s.duty / 3);
    s.clamp_ohms = 2 * clamp_volts * (clamp_volts - reflected) / (leakage_share * s.henry * s.peak_amps * s.peak_amps * hertz);
    s.clamp_farads = 10 / (s.clamp_ohms * hertz); // a tenth of the clamp's volts as ripple
    return s;
}

Turns whole_turns(const std::vector<double>& volts, double most_per_turn, double error) {
    Turns best;
    if (volts.empty()) return best;
    const double lowest = *std::min_element(volts.begin(), volts.end());
    const int least = std::max(1, static_cast<int>(std::ceil(lowest / most_per_turn)));
    for (int n = least; n <= 2 * least + kMoreTurns; ++n) {
        Turns t;
        t.volts_per_turn = lowest / n;
        for (const double v : volts) {
            const int turns = std::max(1, static_cast<int>(std::lround(v / t.volts_per_turn)));
            t.of.push_back(turns);
            t.worst = std::max(t.worst, std::fabs(turns * t.volts_per_turn / v - 1));
        }
        if (best.of.empty() || t.worst < best.worst) best = std::move(t);
        if (best.worst <= error) break;
    }
    return best;
}

double reservoir_farads(double amps, double hertz, double ripple) { return amps / (hertz * ripple); }

double next_rating(const std::vector<double>& ratings, double wanted) {
    const auto found = std::lower_bound(ratings.begin(), ratings.end(), wanted * (1 - 1e-9));
    return found == ratings.end() ? ratings.back() : *found;
}

// Rows of ratings as parts are sold; common practice, no source.
const std::vector<double>& capacitor_volts() {
    static const std::vector<double> row = {6.3, 10, 16, 25, 35, 50, 63, 80, 100, 160, 200, 250, 400, 450, 500};
    return row;
}
const std::vector<double>& fuse_amps() {
    static const std::vector<double> row = {0.2, 0.315, 0.5, 0.63, 0.8, 1,  1.25, 1.6, 2,  2.5, 3.15, 4,
                                            5,   6.3,   8,   10,   16,  20, 25,   40,  60, 80,  100};
    return row;
}
const std::vector<double>& rectifier_amps() {
    static const std::vector<double> row = {1, 2, 3, 4, 6, 8, 10, 16, 20, 30, 40, 60, 80, 120};
    return row;
}
const std::vector<double>& silicon_volts() {
    static const std::vector<double> row = {30, 60, 100, 200, 400, 500, 600, 650, 800, 900, 1000, 1200};
    return row;
}
const std::vector<double>& bridge_volts() {
    static const std::vector<double> row = {100, 200, 400, 600, 800, 1000};
    return row;
}
const std::vector<double>& schottky_volts() {
    static const std::vector<double> row = {30, 40, 60, 100, 150, 200};
    return row;
}
const std::vector<double>& switch_ratings() {
    static const std::vector<double> row = {1, 2, 4, 6, 8, 10, 12, 16, 20, 30, 50, 80, 120, 180};
    return row;
}
const std::vector<double>& surge_absorber_volts() {
    static const std::vector<double> row = {14, 20, 30, 40, 60, 75, 95, 130, 150, 175, 230, 250, 275, 300, 320, 385};
    return row;
}

} // namespace ohmo
