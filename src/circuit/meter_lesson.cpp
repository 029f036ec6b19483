// SPDX-License-Identifier: GPL-3.0-or-later
#include "circuit/meter_lesson.h"

#include "base/constants.h"
#include "base/engineering.h"

#include <fmt/format.h>

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kSlope = 1.85, kSlopeSpread = 0.07; // emission coefficient of silicon diodes
constexpr double kTestAmps = 1e-3, kTestSpread = 0.35;
constexpr double kUsualDiode = 0.58, kUsualSpread = 0.04; // volts at the test current where the diode test was not used
constexpr double kLeastDiode = 0.35, kMostDiode = 0.9;
constexpr double kLeastAmps = 1e-9, kMostAmps = 2e-2;
constexpr double kOffAtMost = 0.1;                        // share by which a known resistor may be shown wrong
constexpr double kMakersGain = 0.006, kLastDigit = 0.002; // what is known of any hand meter; a reading's last digits
constexpr double kLittleKnown = 0.7;                      // ln, of a test current nobody measured
constexpr double kShutVolts = 0.35;                       // open-circuit volts of a meter that finds no junction on any range
constexpr std::size_t kRangesToTell = 3;                  // over on so many ranges: it is the volts that are too few

class Teacher {
public:
    explicit Teacher(const MeterLesson& lesson) : m_lesson(lesson) {}

    Result<MeterProfile> run() {
        check();
        if (!m_problems.empty()) return m_problems;
        MeterProfile out;
        out.id = m_lesson.id;
        out.usual = true;
        out.leads = m_lesson.leads;
        out.ohms.clear();
        learn_gain(out);
        for (std::size_t k = 0; k < m_lesson.ranges.size(); ++k) out.ohms.push_back(learn_range(k, out.gain));
        out.over = out.ohms.back().full;
        const auto over = std::count_if(m_lesson.ranges.begin(), m_lesson.ranges.end(), [](const auto& r) { return r.diode_over; });
        const bool none_read =
            std::none_of(m_lesson.ranges.begin(), m_lesson.ranges.end(), [](const auto& r) { return r.diode.has_value(); });
        if (none_read && static_cast<std::size_t>(over) >= kRangesToTell) out.compliance = kShutVolts;
        if (!m_problems.empty()) return m_problems;
        return out;
    }

private:
    void complain(std::string place, std::string found, std::string expected) {
        m_problems.push_back({ProblemKind::OutOfRangeValue, std::move(place), std::move(found), std::move(expected), 0, false});
    }
    static std::string place(std::size_t range, const char* field) { return fmt::format("range {}/{}", range + 1, field); }

    void check() {
        if (m_lesson.id.empty()) m_problems.push_back({ProblemKind::MissingField, "id", "id", "a name for the meter", 0, false});
        if (m_lesson.ranges.empty()) m_problems.push_back({ProblemKind::MissingField, "ranges", "ranges", "at least one range", 0, false});
        if (m_lesson.leads < 0 || m_lesson.leads > 5)
            complain("leads", format_nominal(m_lesson.leads, "Ω"), "0 to 5 Ω with the tips touched");
        if (m_lesson.diode && (*m_lesson.diode < kLeastDiode || *m_lesson.diode > kMostDiode))
            complain("diode", format_nominal(*m_lesson.diode, "V"), "0.35 to 0.9 V: take a silicon diode, red lead at the anode");
        double below = 0;
        for (std::size_t k = 0; k < m_lesson.ranges.size(); ++k) {
            const auto& r = m_lesson.ranges[k];
            if (r.full <= below)
                complain(place(k, "full"), format_nominal(r.full, "Ω"), fmt::format("more than {}", format_nominal(below, "Ω")));
            below = std::max(below, r.full);
            if (r.known.has_value() != r.shown.has_value())
                complain(place(k, r.known ? "shown" : "known"), "nothing", "both the resistor's value and what the meter shows");
            else if (r.known && !(*r.known > 0 && std::abs(*r.shown / *r.known - 1) < kOffAtMost))
                complain(place(k, "shown"), format_nominal(*r.shown, "Ω"),
                         fmt::format("within 10 % of {}: is it the right resistor and the right range?", format_nominal(*r.known, "Ω")));
            if (r.in_series < 0) complain(place(k, "with"), format_nominal(r.in_series, "Ω"), "0 Ω or more");
            if (r.diode && *r.diode <= r.in_series)
                complain(place(k, "diode"), format_nominal(*r.diode, "Ω"),
                         fmt::format("more than the {} in series: the diode adds to it", format_nominal(r.in_series, "Ω")));
        }
    }

    // Known resistors against what is known of any hand meter, by inverse variance.
    void learn_gain(MeterProfile& out) const {
        double weight = 1 / (kMakersGain * kMakersGain), sum = 0;
        const double tolerance = m_lesson.resistor_tolerance / 2; // two deviations
        for (const auto& r : m_lesson.ranges)
            if (r.known) {
                const double w =
                    1 / (tolerance * tolerance + kLastDigit * kLastDigit + kMakersGain * kMakersGain / 4); // ranges differ a little
                weight += w;
                sum += w * std::log((*r.shown) / *r.known);
            }
        out.gain = std::exp(sum / weight);
        out.gain_spread = 1 / std::sqrt(weight);
    }

    // The diode's volts at a current, from what the diode test shows.
    double volts(double amps) const { return m_lesson.diode.value_or(kUsualDiode) + kSlope * kThermalVolts * std::log(amps / kTestAmps); }
    double volts_spread(double amps) const {
        const double own = m_lesson.diode ? 0 : kUsualSpread;
        return std::hypot(own, kSlope * kThermalVolts * kTestSpread, kSlopeSpread * kThermalVolts * std::log(amps / kTestAmps));
    }

    OhmsRange learn_range(std::size_t k, double gain) {
        const auto& r = m_lesson.ranges[k];
        if (!r.diode) return {r.full, usual_amps(r.full), kLittleKnown};
        const double ohms = *r.diode / gain - r.in_series;
        double low = std::log(kLeastAmps), high = std::log(kMostAmps);
        const auto excess = [&](double ln_amps) { return volts(std::exp(ln_amps)) - std::exp(ln_amps) * ohms; };
        // The exponential crosses the line of the shown resistance twice; the upper crossing is the one with a sensible diode below it.
        if (ohms <= 0 || excess(high) > 0) {
            complain(place(k, "diode"), format_nominal(*r.diode, "Ω"), "ohms of one silicon diode, red lead at the anode");
            return {r.full, usual_amps(r.full), kLittleKnown};
        }
        const double peak = std::log(std::clamp(kSlope * kThermalVolts / ohms, kLeastAmps, kMostAmps));
        low = std::max(low, peak);
        if (excess(low) <= 0) {
            complain(place(k, "diode"), format_nominal(*r.diode, "Ω"), "a test current between 1 nA and 20 mA; this would need less");
            return {r.full, usual_amps(r.full), kLittleKnown};
        }
        for (int step = 0; step < 80; ++step) {
            const double middle = (low + high) / 2;
            (excess(middle) > 0 ? low : high) = middle;
        }
        const double amps = std::exp((low + high) / 2), v = volts(amps);
        const double slope = std::max(v - kSlope * kThermalVolts, kSlope * kThermalVolts);
        return {r.full, amps, std::hypot(volts_spread(amps) / slope, kLastDigit)};
    }

    // About a third of a volt at full scale, as meters have it whose ranges find junctions.
    static double usual_amps(double full) { return std::clamp(0.4 / full, 5e-8, 1e-3); }

    const MeterLesson& m_lesson;
    Problems m_problems;
};

} // namespace

std::vector<RangeLesson> ranges_of_counts(int counts) {
    double full = counts;
    while (full >= 1000) full /= 10;
    std::vector<RangeLesson> out;
    for (int k = 0; k < 6; ++k, full *= 10) {
        out.emplace_back();
        out.back().full = full;
    }
    return out;
}

Result<MeterProfile> teach_meter(const MeterLesson& lesson) { return Teacher(lesson).run(); }

} // namespace ohmo
