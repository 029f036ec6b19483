// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/reading_model.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

constexpr double kWorthSharing = 0.03;  // of the part that moves a reading most: what is kept for comparing readings
constexpr double kLeastResidue = 0.002; // V: below what any generator's share comes to

// Change of the score axis by a change of ln(value).
double x_per_ln(Quantity what, double value) {
    switch (what) {
    case Quantity::Ohms:
    case Quantity::Esr:
        return value / (value + quantity_info(what).offset);
    case Quantity::Farads:
        return 1;
    case Quantity::Diode:
        return value;
    default:
        return 0;
    }
}

// `model`: share that the models and the meter's accuracy leave.
double spread_of(const Practice& p, Quantity what, const MeterProfile& meter, const MeterReading& reading, double model) {
    const double v = reading.value, offset = quantity_info(what).offset;
    switch (what) {
    case Quantity::Ohms:
        return std::hypot(model * v, meter.residue) / (v + offset);
    case Quantity::Esr:
        return std::hypot(model * v, meter.residue / 3) / (v + offset);
    case Quantity::Farads:
        return std::max(model, p.farads_spread);
    case Quantity::Diode:
        return std::hypot(reading.sigma(), p.diode_volts_spread, meter.accuracy / 2 * v);
    case Quantity::Leakage:
        return std::hypot(model, p.leakage_model_share) * v / (v + offset) + p.leakage_spread;
    case Quantity::Residue:
        return std::hypot(model * v, p.residue_share * meter.square_open_volts());
    case Quantity::Continuity:
    case Quantity::VoltsDirect:
    case Quantity::VoltsAlternating:
        break;
    }
    return 0;
}

} // namespace

Prediction prediction_of(const Practice& practice, Quantity what, const MeterProfile& meter, const MeterReading& reading) {
    Prediction p;
    p.value = reading.value;
    p.over = reading.over;
    p.rising = reading.rising;
    p.conducting = reading.conducting;
    p.converged = reading.converged;
    p.failed_part = reading.failed_part;
    p.x = score_axis(what, reading.value);
    if (reading.alternate) p.alternate_x = score_axis(what, *reading.alternate);
    if (const double slope = x_per_ln(what, reading.value); slope > 0) {
        double largest = 0;
        for (const auto& d : reading.by_part) largest = std::max(largest, std::fabs(d.change));
        for (const auto& d : reading.by_part)
            if (std::fabs(d.change) > kWorthSharing * largest) p.by_part.push_back({d.part, d.element, d.change * slope, d.sigma});
    }
    const bool plain = is_direct(what) && what != Quantity::Diode && reading.conducting.empty();
    p.sigma = spread_of(practice, what, meter, reading,
                        std::hypot(reading.ln_sigma, meter.accuracy, plain ? practice.plain_model_share : practice.model_share));
    return p;
}

double least_sigma(const Practice& p, Quantity what, const MeterProfile& meter) {
    switch (what) {
    case Quantity::Diode:
        return p.diode_volts_spread;
    case Quantity::Leakage:
        return p.leakage_spread;
    case Quantity::Residue:
        return kLeastResidue;
    default:
        return std::min(std::hypot(meter.accuracy, p.plain_model_share) * 0.99, 8 * meter.residue);
    }
}

} // namespace ohmo
