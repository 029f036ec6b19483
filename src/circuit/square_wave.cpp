// SPDX-License-Identifier: GPL-3.0-or-later
// Method: Fourier series of a trapezoid wave, each odd harmonic divided between source resistance and impedance, summed over one period.
// Rise time 2 % of the period: the spectrum's first zero lies just above the 49th harmonic;
// Lanczos factors keep the cut-off from ringing (C. Lanczos, Applied Analysis, 1956).
#include "circuit/square_wave.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numbers>
#include <vector>

namespace ohmo {
namespace {

constexpr int kHarmonics = 25, kSamples = 800;
constexpr double kRise = 0.02;      // of the period
constexpr double kRampShare = 0.05; // of the residue; more than this spoils the formula

double angle(int sample) { return 2 * std::numbers::pi * sample / kSamples; }

} // namespace

double esr_of_residue(double residue_volts, double open_volts, double source_ohms) {
    if (residue_volts >= open_volts) return std::numeric_limits<double>::infinity();
    return source_ohms * residue_volts / (open_volts - residue_volts);
}

double residue_of_esr(double esr, double open_volts, double source_ohms) { return open_volts * esr / (esr + source_ohms); }

std::vector<SquareHarmonic> square_harmonics(const MeterProfile& generator) {
    std::vector<SquareHarmonic> out;
    for (int h = 0; h < kHarmonics; ++h) {
        const int order = 2 * h + 1;
        const double edge = std::numbers::pi * order * kRise;
        const double last = std::numbers::pi * order / (2 * kHarmonics + 1); // Lanczos factor, the roll-off of a scope's input
        out.push_back({order, order * generator.square_hertz,
                       2 * generator.square_open_volts() / (std::numbers::pi * order) * std::sin(edge) / edge * std::sin(last) / last});
    }
    return out;
}

SquareTrace square_trace(const std::vector<SquareHarmonic>& harmonics, const std::vector<std::complex<double>>& volts) {
    std::vector<double> wave(kSamples, 0.0);
    static const auto sines = [] {
        std::array<double, kSamples> out{};
        for (int s = 0; s < kSamples; ++s) out[static_cast<std::size_t>(s)] = std::sin(angle(s));
        return out;
    }();
    for (std::size_t h = 0; h < harmonics.size(); ++h)
        for (int s = 0; s < kSamples; ++s) {
            const int turned = static_cast<int>(static_cast<long>(harmonics[h].order) * s % kSamples);
            wave[static_cast<std::size_t>(s)] += volts[h].real() * sines[static_cast<std::size_t>(turned)] +
                                                 volts[h].imag() * sines[static_cast<std::size_t>((turned + kSamples / 4) % kSamples)];
        }
    const auto [low, high] = std::minmax_element(wave.begin(), wave.end());
    return {*high - *low, angle(static_cast<int>(high - wave.begin())), angle(static_cast<int>(low - wave.begin()))};
}

SquareResidue square_residue(const MeterProfile& generator, const std::function<std::complex<double>(double)>& impedance) {
    const double open = generator.square_open_volts();
    const auto harmonics = square_harmonics(generator);
    std::vector<std::complex<double>> shares;
    SquareResidue out;
    for (const auto& h : harmonics) {
        const auto z = impedance(h.hertz);
        if (shares.empty()) out.esr_true = z.real();
        shares.push_back(h.volts * z / (z + generator.square_ohms));
    }
    out.volts = square_trace(harmonics, shares).volts;
    out.esr_said = esr_of_residue(out.volts, open, generator.square_ohms);
    const double flat = open * out.esr_true / (out.esr_true + generator.square_ohms); // if it were resistance alone
    out.ramp_shows = out.volts > 0 && (out.volts - flat) > kRampShare * out.volts;
    return out;
}

SquareResidue square_residue(const MeterProfile& generator, const Netlist& net, int red, int black) {
    return square_residue(generator, [&](double hertz) { return AcSolver(net, hertz).impedance(red, black).ohms; });
}

} // namespace ohmo
