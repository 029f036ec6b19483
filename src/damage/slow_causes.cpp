// SPDX-License-Identifier: GPL-3.0-or-later
// Sums: valley of the bulk capacitor over a line cycle at full load; peak current inversely as the valley, dissipation as its square,
// against a thermal headroom of 1.8; drain peak = mains crest + reflected volts + peak current * sqrt(leakage / drain capacitance), leakage
// 1 % of the primary, 100 pF, against 1.15 times rated volts (avalanche); an unregulated rail climbs to about 1.7 times its nominal,
// against its clamp or 1.3 times its capacitors' rating. Headroom, leakage, capacitance and climb are common practice, no source; hence the
// spreads. A base-drive capacitor that dries lets the drive current fall as (R + ESR) rises, and the switch heats up by as much as it
// leaves saturation. A short behind a line transformer draws the secondary's volts over both windings' resistances; the fuse sees that
// through the turns ratio and melts above kFuseMeltsAbove times its rating; where it holds, the primary or the link in it may go. A pass
// transistor carries what the reservoir can drive into a short until a fuse stops it: with one that is too large, nothing does. A shorted
// output asks 1.5 times the rail's current of its rectifier. Of two switches in a totem pole the second turns on against the shorted first.
// After a tantalum has shorted, its neighbours on the rail meet the next switch-on at the same margin.
#include "damage/slow_causes.h"

#include "base/statistics.h"
#include "board/nominal.h"
#include "board/power_path.h"
#include "circuit/energised.h"
#include "circuit/stress.h"

#include <algorithm>
#include <cmath>
#include <numbers>

namespace ohmo {
namespace {

constexpr double kThermalHeadroom = 1.8, kThermalSigma = 0.45;
constexpr double kDriedShare = 0.3; // of its capacitance, as in the circuit model
constexpr double kClimb = 1.7;
constexpr double kFuseSigma = 0.2;
constexpr double kOversized = 5;        // times the marked rating
constexpr double kPrimaryCarries = 1.5; // of the fuse's rating, for minutes
constexpr double kPrimaryGoes = 0.3;    // of the transformers, where the fuse holds
constexpr double kDeadShortOhms = 0.3;
constexpr double kRegulatorSpare = 1.5;                          // reservoir volts over rail volts
constexpr double kFuseFirst = 0.15;                              // chance that a transistor dies although the right fuse is in
constexpr double kKeepsRunning = 0.4;                            // chance that a sagging supply does not simply stop the chip
constexpr double kOnOhms = 0.5, kPulseShare = 4, kTurnsOn = 0.8; // of a switch that turns on; pulsed over rated amperes
constexpr double kFuseGoesFirst = 0.5;                           // of the pulses that the other switch would stand
constexpr double kTantalumLimit = 1.1, kTantalumSigma = 0.3, kSwitchOns = 0.3;

bool contains(const std::vector<int>& list, int part) { return std::find(list.begin(), list.end(), part) != list.end(); }

FaultMode switch_short(const Board& board, int part) {
    const auto kind = board.part(part).kind;
    return kind == PartKind::Mosfet || kind == PartKind::IntegratedSwitch ? FaultMode::DsShort : FaultMode::CeShort;
}

// Any one of the switches, all of which are loaded alike.
void switch_breaks(const Board& board, const BoardRoles& t, Cause cause, double value, double limit, double sigma,
                   std::vector<Consequence>& out) {
    for (int i : t.switches)
        out.push_back({{{i, switch_short(board, i), {}}, cause, value, limit, 0},
                       exceedance(value / limit, sigma) / static_cast<double>(t.switches.size())});
}

double drain_peak_without_snubber(const Board& board, const BoardRoles& t) {
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

bool shorted(FaultMode mode) { return mode == FaultMode::Short || mode == FaultMode::DsShort || mode == FaultMode::CeShort; }

double capacitor_esr(const Board& board, int part, std::span<const Fault> faults) {
    const auto net = expand_part(board, part, faults);
    return net.capacitors.empty() ? 0 : net.capacitors.front().esr;
}

// A wet capacitor in series with a bipolar's base.
void drive_weakens(const Board& board, const BoardRoles& t, const Fault& root, std::vector<Consequence>& out) {
    const auto& capacitor = board.part(root.part);
    if (capacitor.kind != PartKind::Electrolytic || root.mode != FaultMode::Dry) return;
    for (int i : t.switches) {
        const NetId base = board.part(i).net("B");
        for (int d : t.drive_path) {
            const auto& resistor = board.part(d);
            if (base < 0 || !is_resistor_like(resistor.kind)) continue;
            const auto touches = [](const Part& p, NetId net) { return p.pins[0].id == net || p.pins[1].id == net; };
            if (!touches(resistor, base)) continue;
            const NetId far = resistor.pins[0].id == base ? resistor.pins[1].id : resistor.pins[0].id;
            if (!touches(capacitor, far)) continue;
            const auto nominal = nominal_value(resistor);
            const double ohms = nominal ? nominal->ohms.value_or(10) : 10;
            const double ratio =
                (ohms + capacitor_esr(board, root.part, std::vector<Fault>{root})) / (ohms + capacitor_esr(board, root.part, {}));
            out.push_back({{{i, switch_short(board, i), {}}, Cause::WeakDrive, ratio, kThermalHeadroom, 0},
                           exceedance(ratio / kThermalHeadroom, kThermalSigma)});
        }
    }
}

// An integrated switch drives its own gate from the supply pin: a dry capacitor there lets it sag towards the lock-out at every pulse, and
// the switch's resistance rises about as the square. Mostly it only stops.
void own_supply_sags(const Board& board, const BoardRoles& t, const Fault& root, std::vector<Consequence>& out) {
    if (t.power_switch < 0 || board.part(t.power_switch).kind != PartKind::IntegratedSwitch || root.mode != FaultMode::Dry ||
        !contains(t.supply_capacitors, root.part))
        return;
    const auto nominal = nominal_value(board.part(t.power_switch));
    if (!nominal || !nominal->start_volts || !nominal->stop_volts || *nominal->stop_volts <= 0) return;
    const double heat = std::pow(*nominal->start_volts / *nominal->stop_volts, 2);
    out.push_back({{{t.power_switch, switch_short(board, t.power_switch), {}}, Cause::WeakDrive, heat, kThermalHeadroom, 0},
                   kKeepsRunning * exceedance(heat / kThermalHeadroom, kThermalSigma)});
}

// What a dead short behind the line transformer draws from the mains.
void fuse_sees(const Board& board, const BoardRoles& t, const Fault& root, bool oversized, std::vector<Consequence>& out) {
    if (t.line_transformer < 0 || !board.mains || !shorted(root.mode)) return;
    const auto& part = board.part(root.part);
    const bool behind =
        part.stage == "rectify-out" || (part.stage == "smooth" && is_capacitor(part.kind)) || root.part == t.line_transformer;
    const auto& transformer = board.part(t.line_transformer);
    const auto pairs = transformer.pairs();
    const auto of = [&](const std::map<std::string, double>& by, std::size_t winding, double fallback) {
        const auto at = by.find(pairs[winding].first->role + "-" + pairs[winding].second->role);
        return at == by.end() ? fallback : at->second;
    };
    if (!behind) return;
    const double ratio = of(transformer.turns, 1, 1) / of(transformer.turns, 0, 10);
    const double ohms = of(transformer.winding_ohms, 1, 0.3) + of(transformer.winding_ohms, 0, 20) * ratio * ratio + kDeadShortOhms;
    const double amps = board.mains->volts * ratio / ohms * ratio;
    for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
        const auto& fuse = board.part(i);
        const auto nominal = nominal_value(fuse);
        if (fuse.kind != PartKind::Fuse || fuse.stage != "mains-in" || !nominal || !nominal->amps) continue;
        const double limit = kFuseMeltsAbove * *nominal->amps * (oversized ? kOversized : 1);
        out.push_back({{{i, FaultMode::Open, {}}, Cause::Overcurrent, amps, limit, 0}, exceedance(amps / limit, kFuseSigma)});
        // Where the fuse holds, the link buried in the primary goes, or the winding itself.
        const double carries = kPrimaryCarries * *nominal->amps;
        out.push_back({{{t.line_transformer, FaultMode::Open, {}}, Cause::Overcurrent, amps, carries, 0},
                       kPrimaryGoes * exceedance(amps / carries, kFuseSigma)});
    }
}

void pass_transistor_carries(const Board& board, const BoardRoles& t, const Fault& root, bool oversized, std::vector<Consequence>& out) {
    if (!shorted(root.mode) || t.pass.empty()) return;
    const auto& part = board.part(root.part);
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& rail = board.rails[r];
        const bool on_rail = std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == rail.net_id; }) &&
                             std::any_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return p.id == rail.return_id; });
        if (!on_rail) continue;
        for (int i : t.pass) {
            const auto& pass = board.part(i);
            const auto nominal = nominal_value(pass);
            if (!t.path.rail_nets(r)[static_cast<std::size_t>(pass.net("E"))] || !nominal || !nominal->amps) continue;
            double ohms = kDeadShortOhms;
            for (const auto& emitter : board.parts)
                if (is_resistor_like(emitter.kind) && (emitter.pins[0].id == pass.net("E") || emitter.pins[1].id == pass.net("E"))) {
                    const auto n = nominal_value(emitter);
                    if (n && n->ohms.value_or(1e9) <= 10) ohms += *n->ohms;
                }
            const double amps = kRegulatorSpare * std::fabs(rail.volts) / ohms, limit = 2 * *nominal->amps;
            out.push_back({{{i, FaultMode::CeShort, {}}, Cause::Overcurrent, amps, limit, 0},
                           exceedance(amps / limit, 0.4) * (oversized ? 1 : kFuseFirst)});
        }
    }
}

// In a totem pole the healthy switch turns on against the shorted one, with the bulk capacitor behind both.
void other_half_shoots_through(const Board& board, const BoardRoles& t, const Fault& root, std::vector<Consequence>& out) {
    if (!shorted(root.mode) || !contains(t.switches, root.part) || !board.mains) return;
    const auto end = [&](int part, const char* fet, const char* bipolar) {
        const NetId net = board.part(part).net(fet);
        return net >= 0 ? net : board.part(part).net(bipolar);
    };
    for (int i : t.switches) {
        const bool totem = end(i, "S", "E") == end(root.part, "D", "C") || end(i, "D", "C") == end(root.part, "S", "E");
        const auto nominal = nominal_value(board.part(i));
        if (i == root.part || !totem || !nominal || !nominal->amps) continue;
        const double amps = std::numbers::sqrt2 * board.mains->volts / (kDeadShortOhms + kOnOhms), limit = kPulseShare * *nominal->amps;
        out.push_back({{{i, switch_short(board, i), {}}, Cause::Overcurrent, amps, limit, 0}, kTurnsOn * exceedance(amps / limit, 0.6)});
        for (int f = 0; f < static_cast<int>(board.parts.size()); ++f) { // or it holds out until the fuse goes
            const auto& fuse = board.part(f);
            const auto n = nominal_value(fuse);
            if (fuse.kind != PartKind::Fuse || fuse.stage != "mains-in" || !n || !n->amps) continue;
            out.push_back({{{f, FaultMode::Open, {}}, Cause::Overcurrent, amps, kFuseMeltsAbove * *n->amps, 0}, kTurnsOn * kFuseGoesFirst});
        }
    }
}

void rectifier_overloads(const Board& board, const BoardRoles& t, const Fault& root, std::vector<Consequence>& out) {
    if (!shorted(root.mode) || t.switches.empty()) return;
    const auto& part = board.part(root.part);
    if (part.stage != "smooth" && part.stage != "rails") return;
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto& nets = t.path.rail_nets(r);
        const auto on = [&](NetId net) { return net >= 0 && nets[static_cast<std::size_t>(net)]; };
        if (std::none_of(part.pins.begin(), part.pins.end(), [&](const Pin& p) { return on(p.id); })) continue;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& diode = board.part(i);
            const auto nominal = nominal_value(diode);
            if (diode.stage != "rectify-out" || !is_diode_like(diode.kind) || i == root.part || !on(diode.net("K")) || !nominal ||
                !nominal->amps)
                continue;
            const double amps = 1.5 * board.rails[r].amps;
            out.push_back(
                {{{i, FaultMode::Short, {}}, Cause::RectifierHeat, amps, *nominal->amps, 0}, exceedance(amps / *nominal->amps, 0.4)});
        }
    }
}

void next_tantalum(const Board& board, const BoardRoles& t, const Fault& root, std::vector<Consequence>& out) {
    const auto& first = board.part(root.part);
    if (first.kind != PartKind::Tantalum || root.mode != FaultMode::Short) return;
    for (std::size_t r = 0; r < board.rails.size(); ++r) {
        const auto on = [&](NetId net) { return t.path.rail_nets(r)[static_cast<std::size_t>(net)] != 0; };
        if (!on(first.net("+"))) continue;
        for (int i = 0; i < static_cast<int>(board.parts.size()); ++i) {
            const auto& part = board.part(i);
            const auto nominal = nominal_value(part);
            if (i == root.part || part.kind != PartKind::Tantalum || !on(part.net("+")) || !nominal || !nominal->volts) continue;
            const double volts = std::fabs(board.rails[r].volts), limit = kTantalumLimit * *nominal->volts;
            out.push_back({{{i, FaultMode::Short, {}}, Cause::TantalumMargin, volts, limit, 0},
                           kSwitchOns * exceedance(volts / limit, kTantalumSigma)});
        }
    }
}

} // namespace

double bulk_valley(const Board& board, const BoardRoles& t, double share) {
    if (t.bulk.empty() || !board.mains) return 0;
    return bulk_ripple(board.mains->volts, board.mains->hertz, bulk_farads(board, t) * share, t.input_watts).valley_volts;
}

std::vector<Consequence> slow_consequences(const Board& board, const BoardRoles& t, const Fault& root,
                                           const std::set<std::string>& history) {
    std::vector<Consequence> out;
    const bool oversized = history.contains("oversized-fuse");
    const bool offline = board.mains && t.power_switch >= 0;
    if (offline && contains(t.bulk, root.part) && (root.mode == FaultMode::Dry || root.mode == FaultMode::Open)) {
        const double crest = std::numbers::sqrt2 * board.mains->volts;
        const double before = bulk_valley(board, t, 1.0);
        const double after = std::max(bulk_valley(board, t, root.mode == FaultMode::Dry ? kDriedShare : 0.02), crest / 3);
        const double heat = std::pow(before / after, 2);
        switch_breaks(board, t, Cause::SwitchHeat, heat, kThermalHeadroom, kThermalSigma, out);
    }
    if (offline && contains(t.snubber, root.part) && root.mode == FaultMode::Open) {
        const auto nominal = nominal_value(board.part(t.power_switch));
        const double rated = nominal && nominal->volts ? *nominal->volts : 600;
        switch_breaks(board, t, Cause::DrainVolts, drain_peak_without_snubber(board, t), 1.15 * rated, 0.15, out);
    }
    if (t.power_switch >= 0 && feedback_lost(board, root)) output_climbs(board, out);
    drive_weakens(board, t, root, out);
    pass_transistor_carries(board, t, root, oversized, out);
    own_supply_sags(board, t, root, out);
    other_half_shoots_through(board, t, root, out);
    fuse_sees(board, t, root, oversized, out);
    rectifier_overloads(board, t, root, out);
    next_tantalum(board, t, root, out);
    std::erase_if(out, [](const Consequence& c) { return c.chance < 0.01; });
    std::stable_sort(out.begin(), out.end(), [](const Consequence& a, const Consequence& b) { return a.chance > b.chance; });
    return out;
}

} // namespace ohmo
