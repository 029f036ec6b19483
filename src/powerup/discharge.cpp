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
    const auto point = solver.solve(plus, minus, kBleederAmps);
    return point.converged ? point.volts / kBleederAmps : 0;
}

} // namespace

Discharge discharge_of(const Practice& p, double farads, double volts) {
    Discharge d;
    d.farads = farads;
    d.volts = volts;
    d.joules = stored_joules(farads, volts);
    const double wanted = p.discharge_seconds / (farads * std::log(std::max(volts, 2 * working_volts()) / working_volts()));
    d.resistor_ohms = preferred_at_least(std::clamp(std::max(wanted * 0.6, volts * volts / p.resistor_watts), 100.0, 100e3), 12);
    d.resistor_watts = volts * volts / d.resistor_ohms;
    d.resistor_tau = d.resistor_ohms * farads;
    d.resistor_seconds = decay_seconds(volts, working_volts(), d.resistor_tau);
    return d;
}

std::optional<Discharge> plan_discharge(const Board& board, const BoardRoles& t, const std::vector<ChargeReading>& readings) {
    if (t.bulk.empty() || bulk_volts(board, t) <= 0) return std::nullopt;
    Discharge d = discharge_of(board.practice(), bulk_farads(board, t), bulk_volts(board, t));
    d.predicted_tau = d.farads * bleeder_ohms(board, t.hv, t.primary_ground);
    return with_readings(d, readings);
}

Discharge with_readings(Discharge d, const std::vector<ChargeReading>& readings) {
    d.measured_tau.reset();
    // The longest stretch of falling readings tells the real time constant.
    for (std::size_t i = 0; i + 1 < readings.size(); ++i) {
        const auto &first = readings[i], &last = readings.back();
        if (first.volts > last.volts * 1.05 && last.volts > 1 && last.at_seconds > first.at_seconds) {
            d.measured_tau = tau_from_readings(first.volts, last.volts, last.at_seconds - first.at_seconds);
            break;
        }
    }
    return d;
}

} // namespace ohmo
