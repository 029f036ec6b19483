// SPDX-License-Identifier: GPL-3.0-or-later
// What a fault does to the energised board in its first milliseconds: the bulk capacitor at its peak, the mains behind it.
#pragma once
#include "base/result.h"
#include "board/roles.h"
#include "circuit/board_circuit.h"
#include "circuit/stress.h"

#include <memory>
#include <span>
#include <string>
#include <vector>

namespace ohmo {

struct SurgeEvent {
    double at; ///< seconds
    Fault fault;
};

struct SurgeOptions {
    double seconds = 0.02;                         ///< length of the run
    double first_step = 2e-6, longest_step = 5e-4; ///< seconds
    double relative = 2e-2, volts = 1, amps = 0.5; ///< error a step may make: stresses come out within a per cent
    double mains_ohms = 0.4;                       ///< wall and wiring
    bool sustain = true;                           ///< fault currents of the last half cycle go on beyond the run until a fuse melts
    double arc_volts = 25, arc_least_amps = 1;
};

struct SurgeResult {
    std::vector<Stress> stresses; ///< parts that had no fault and took more than a hundredth of their limit
    double bulk_joules_dumped = 0;
    double peak_amps = 0; ///< through the bulk capacitor
};

/// A board made ready for surges: its elements, where the mains comes in, what hangs together with the bulk capacitor. `board` must outlive
/// it. Immutable.
class SurgeBoard {
public:
    SurgeBoard(const Board& board, const BoardRoles& roles);

    /// Runs the board with `faults` present from the start and `events` happening on the way.
    /// Errors: SolveFailed (no bulk capacitor, or a step that does not settle, with its part), Cancelled.
    Result<SurgeResult> run(std::span<const Fault> faults, std::span<const SurgeEvent> events, const SurgeOptions& options,
                            const CancelToken& cancel) const;

    /// The elements and charges a run starts with, for comparing with other simulators: what hangs together with the bulk capacitor,
    /// windings saturated, renumbered; the source behind the mains resistance.
    struct Start {
        Netlist net;
        std::vector<Source> sources;
        TransientState state;
    };
    Result<Start> start(std::span<const Fault> faults, const SurgeOptions& options) const;

    const Board& board() const { return m_board; }

private:
    friend class SurgeRun;
    const Board& m_board;
    BoardCircuit m_circuit;
    std::vector<int> m_bulk;
    double m_bulk_volts = 0; ///< at the start
    int m_mains_a = -1, m_mains_b = -1;
};

} // namespace ohmo
