// SPDX-License-Identifier: GPL-3.0-or-later
// Method: Fourier series of a trapezoid wave, each odd harmonic divided between source resistance and impedance, summed over one period.
// Rise time 2 % of the period: the spectrum's first zero lies just above the 49th harmonic;
// Lanczos factors keep the cut-off from ringing (C. Lanczos, Applied Analysis, 1956).
#include "circuit/square_wave.h"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

namespace ohmo {
namespace {

constexpr int kHarmonics = 25, kSamples = 800;
constexpr double kRise = 0.02;      // of the period
constexpr double kRampShare = 0.05; // of the residue; more than this spoils the formula

} // namespace

double esr_of_residue(double residue_volts, double open_volts, double source_ohms) {
    if (residue_volts >= open_volts) return std::numeric_limits<double>::infinity();
    return source_ohms * residue_volts / (open_volts - residue_volts);
}

SquareResidue square_residue(const MeterProfile& generator, const std::function<std::complex<double>(double)>& impedance) {
    const double open = generator.square_open_volts();
    std::vector<double> wave(kSamples, 0.0);
    SquareResidue out;
    for (int h = 0; h < kHarmonics; ++h) {
        const int order = 2 * h + 1;
        const auto z = impedance(order * generator.square_hertz);
        if (h == 0) out.esr_true = z.real();
        const double edge = std::numbers::pi * order * kRise;
        const double last = std::numbers::pi * order / (2 * kHarmonics + 1); // Lanczos factor, the roll-off of a scope's input
        const double amplitude = 2 * open / (std::numbers::pi * order) * std::sin(edge) / edge * std::sin(last) / last;
        const auto share = amplitude * z / (z + generator.square_ohms);
        for (int s = 0; s < kSamples; ++s) {
            const double angle = 2 * std::numbers::pi * order * s / kSamples;
            wave[static_cast<std::size_t>(s)] += share.real() * std::sin(angle) + share.imag() * std::cos(angle);
        }
    }
    const auto [low, high] = std::minmax_element(wave.begin(), wave.end());
    out.volts = *high - *low;
    out.esr_said = esr_of_residue(out.volts, open, generator.square_ohms);
    const double flat = open * out.esr_true / (out.esr_true + generator.square_ohms); // if it were resistance alone
    out.ramp_shows = out.volts > 0 && (out.volts - flat) > kRampShare * out.volts;
    return out;
}

SquareResidue square_residue(const MeterProfile& generator, const Netlist& net, int red, int black) {
    return square_residue(generator, [&](double hertz) { return AcSolver(net, hertz).impedance(red, black).ohms; });
}

} // namespace ohmo
