// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/discharge.h"

#include "base/e_series.h"
#include "circuit/dc_solver.h"
#include "circuit/energised.h"

#include <algorithm>
#include <cmath>

namespace ohmo {
namespace {

double bleeder_ohms(const Board& board, NetId plus, NetId minus) {
    const DcSolver solver(expand(board, {}, {}));
    if (!solver.connected(plus, minus)) return 0;
    // Enough current to lift the junctions of the controller's supply out of the way, as the charged capacitor does.
    const auto point = solver.solve(plus, minus, 2e-4);
    return point.converged ? point.volts / 2e-4 : 0;
}

} // namespace

Discharge discharge_of(double farads, double volts) {
    Discharge d;
    d.farads = farads;
    d.volts = volts;
    d.joules = stored_joules(farads, volts);
    const double wanted = 2.0 / (farads * std::log(std::max(volts, 2 * kWorkingVolts) / kWorkingVolts));
    d.resistor_ohms = preferred_at_least(std::clamp(std::max(wanted * 0.6, volts * volts / 15), 100.0, 100e3), 12);
    d.resistor_watts = volts * volts / d.resistor_ohms;
    d.resistor_tau = d.resistor_ohms * farads;
    d.resistor_seconds = decay_seconds(volts, kWorkingVolts, d.resistor_tau);
    return d;
}

std::optional<Discharge> plan_discharge(const Board& board, const BoardRoles& t, const std::vector<ChargeReading>& readings) {
    if (t.bulk.empty() || bulk_volts(board, t) <= 0) return std::nullopt;
    Discharge d = discharge_of(bulk_farads(board, t), bulk_volts(board, t));
    d.predicted_tau = d.farads * bleeder_ohms(board, t.hv, t.primary_ground);
    // The longest stretch of falling readings tells the real time constant.
    for (std::size_t i = 0; i + 1 < readings.size(); ++i) {
        const auto &a = readings[i], &b = readings.back();
        if (a.volts > b.volts * 1.05 && b.volts > 1 && b.at_seconds > a.at_seconds) {
            d.measured_tau = tau_from_readings(a.volts, b.volts, b.at_seconds - a.at_seconds);
            break;
        }
    }
    return d;
}

} // namespace ohmo
