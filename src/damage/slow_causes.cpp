// SPDX-License-Identifier: GPL-3.0-or-later
// Sums: valley of the bulk capacitor over a line cycle at full load; peak current inversely as the valley, dissipation as its square,
// against a thermal headroom of 1.8; drain peak = mains crest + reflected volts + peak current * sqrt(leakage / drain capacitance), leakage
// 1 % of the primary, 100 pF, against 1.15 times rated volts (avalanche); an unregulated rail climbs to about 1.7 times its nominal,
// against its clamp or 1.3 times its capacitors' rating. Headroom, leakage, capacitance and climb are common practice, no source; hence the
// spreads.
#include "damage/slow_causes.h"

#include "base/statistics.h"
#include "board/nominal.h"
#include "circuit/energised.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kThermalHeadroom = 1.8, kThermalSigma = 0.45;
constexpr double kDriedShare = 0.3; // of its capacitance, as in the circuit model
constexpr double kClimb = 1.7;

bool contains(const std::vector<int>& list, int part) { return std::find(list.begin(), list.end(), part) != list.end(); }

FaultMode switch_short(const Board& board, int part) {
    const auto kind = board.part(part).kind;
    return kind == PartKind::Mosfet || kind == PartKind::IntegratedSwitch ? FaultMode::DsShort : FaultMode::CeShort;
}

Consequence switch_breaks(const Board& board, const Topology& t, Cause cause, double value, double limit, double sigma) {
    return {{{t.power_switch, switch_short(board, t.power_switch), {}}, cause, value, limit, 0}, exceedance(value / limit, sigma)};
}

double drain_peak_without_snubber(const Board& board, const Topology& t) {
    const auto& transformer = board.part(t.transformer);
    const auto nominal = nominal_value(transformer);
    const double henry = nominal && nominal->henry ? *nominal->henry : 1e-3;
    const double crest = std::numbers::sqrt2 * board.mains->volts;
    const double valley = std::max(bulk_valley(board, t, 1.0), crest / 2);
    // Peak current at the valley with a duty of 0.35, half of it ripple; reflected volts 0.35 of the crest.
    const double amps = 1.5 * t.input_watts / (0.35 * valley);
    return crest * 1.35 + amps * std::sqrt(0.01 * henry / 100e-12);
}

bool feedback_lost(const Board& board, const Fault& f) {
    const auto& part = board.part(f.part);
    if (part.stage != "feedback" && part.kind != PartKind::Optocoupler) return false;
    if (part.kind == PartKind::Optocoupler || part.kind == PartKind::ShuntReference)
        return f.mode == FaultMode::Open || f.mode == FaultMode::Weak;
    return part.kind == PartKind::Resistor && f.mode == FaultMode::Open;
}

// An open feedback path lets every rail climb; what clamps a rail breaks first, else its capacitors.
void output_climbs(const Board& board, std::vector<Consequence>& out) {
    for (const auto& rail : board.rails) {
        const double volts = rail.volts * kClimb;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& part = board.part(i);
            const auto nominal = nominal_value(part);
            if (!nominal || !nominal->volts) continue;
            if (part.kind == PartKind::Zener && part.net("K") == rail.net_id && part.net("A") == rail.return_id)
                out.push_back({{{i, FaultMode::Short, {}}, Cause::OutputClimbs, volts, *nominal->volts * 1.15, 0},
                               exceedance(volts / (*nominal->volts * 1.15), 0.2)});
            else if (is_wet_or_solid_electrolytic(part.kind) && part.net("+") == rail.net_id)
                out.push_back({{{i, FaultMode::Leaky, {}}, Cause::OutputClimbs, volts, *nominal->volts * 1.3, 0},
                               0.5 * exceedance(volts / (*nominal->volts * 1.3), 0.15)});
        }
    }
}

} // namespace

double bulk_valley(const Board& board, const Topology& t, double share) {
    if (t.bulk.empty() || !board.mains) return 0;
    double farads = 0;
    for (int i : t.bulk) {
        const auto n = nominal_value(board.part(i));
        farads += n && n->farads ? *n->farads : 100e-6;
    }
    return bulk_ripple(board.mains->volts, board.mains->hertz, farads * share, t.input_watts).valley_volts;
}

std::vector<Consequence> slow_consequences(const Board& board, const Topology& t, const Fault& root) {
    std::vector<Consequence> out;
    if (!board.mains || t.power_switch < 0) return out;
    if (contains(t.bulk, root.part) && (root.mode == FaultMode::Dry || root.mode == FaultMode::Open)) {
        const double crest = std::numbers::sqrt2 * board.mains->volts;
        const double before = bulk_valley(board, t, 1.0);
        const double after = std::max(bulk_valley(board, t, root.mode == FaultMode::Dry ? kDriedShare : 0.02), crest / 3);
        const double heat = std::pow(before / after, 2);
        out.push_back(switch_breaks(board, t, Cause::SwitchHeat, heat, kThermalHeadroom, kThermalSigma));
    }
    if (contains(t.snubber, root.part) && root.mode == FaultMode::Open) {
        const auto nominal = nominal_value(board.part(t.power_switch));
        const double rated = nominal && nominal->volts ? *nominal->volts : 600;
        out.push_back(switch_breaks(board, t, Cause::DrainVolts, drain_peak_without_snubber(board, t), 1.15 * rated, 0.15));
    }
    if (feedback_lost(board, root)) output_climbs(board, out);
    std::erase_if(out, [](const Consequence& c) { return c.chance < 0.01; });
    std::stable_sort(out.begin(), out.end(), [](const Consequence& a, const Consequence& b) { return a.chance > b.chance; });
    return out;
}

} // namespace ohmo
