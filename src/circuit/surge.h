// SPDX-License-Identifier: GPL-3.0-or-later
// What a fault does to the energised board in its first milliseconds: the bulk capacitor at its peak, the mains behind it.
#pragma once
#include "base/result.h"
#include "circuit/netlist.h"

#include <span>
#include <string>
#include <vector>

namespace ohmo {

enum class StressKind { FuseI2t, PulseEnergy, SurgeI2t, GateVolts, PinCurrent, CapacitorVolts };

/// What one part had to take against what it typically can, and what it becomes if that was too much.
struct Stress {
    Fault becomes;
    StressKind kind = StressKind::PulseEnergy;
    double value = 0; ///< A²s, J, V or A by kind
    double limit = 1; ///< median of the same unit
    double sigma_ln = .5;
    double reached_at = 0; ///< seconds; when the limit was passed, else when the value stopped growing
    double ratio() const { return value / limit; }
};

struct SurgeEvent {
    double at; ///< seconds
    Fault fault;
};

struct SurgeOptions {
    double seconds = 0.02;                         ///< length of the run
    double first_step = 2e-7, longest_step = 2e-4; ///< seconds; the step doubles after steps_a_level steps
    int steps_a_level = 5;
    double mains_ohms = 0.4; ///< wall and wiring
    double arc_volts = 25, arc_least_amps = 1;
};

struct SurgeResult {
    std::vector<Stress> stresses; ///< parts that had no fault and took more than a hundredth of their limit
    double bulk_joules_dumped = 0;
    double peak_amps = 0; ///< through the bulk capacitor
};

/// Runs the board with `faults` present from the start and `events` happening on the way.
/// Errors: SolveFailed (no bulk capacitor, or a singular network), Cancelled.
Result<SurgeResult> run_surge(const Board& board, std::span<const Fault> faults, std::span<const SurgeEvent> events,
                              const SurgeOptions& options, const CancelToken& cancel);

/// The bulk capacitors: electrolytics of stage "bulk". Empty on boards without.
std::vector<int> bulk_capacitors(const Board& board);

} // namespace ohmo
