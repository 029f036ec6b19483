// SPDX-License-Identifier: GPL-3.0-or-later
// What the parts of a surging board have to take, against what they typically can.
#pragma once
#include "board/nominal.h"
#include "circuit/transient.h"

#include <map>
#include <optional>
#include <span>
#include <vector>

namespace ohmo {

enum class StressKind { FuseI2t, PulseEnergy, SurgeI2t, GateVolts, PinI2t, CapacitorVolts };

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

/// Collects stresses step by step. `board` must outlive it.
class StressBook {
public:
    explicit StressBook(const Board& board);

    /// After a step of `dt` that ended at `now`. `start`: the currents are those at both ends of the step.
    void record(const Transient& run, std::span<const Fault> faults, double dt, double now);

    /// Remembers the values as they are now, at `now`: what grows from here on goes on growing.
    void mark(double now);

    /// Goes on, from the growth between mark() and `now`, beyond the end of the run: while more than a fuse can hold flows, until the first
    /// fuse has melted or `stopped_at` (seconds; when something is known to open later), whichever is first. A fuse itself is carried on
    /// for a minute or to four times its limit, as it will melt for certain.
    void sustain(double now, std::optional<double> stopped_at);

    /// What took more than a hundredth of its limit, ordered by fault.
    std::vector<Stress> take() const;

    /// After the elements changed: nothing is known of the step before.
    void forget_before();

private:
    double inrush_joules(const Part& part) const;
    void resistor(const Resistive& r, double i2t, double now);
    void capacitor(const Capacitive& c, double volts, double now);
    void gate(int part, double volts, double now);
    void junction(const Junction& j, double amps, double amps_before, double dt, double now);
    Stress& entry(const Fault& fault, StressKind kind, double limit, double sigma);
    void add(const Fault& fault, StressKind kind, double more, double limit, double sigma, double now);
    void peak(const Fault& fault, StressKind kind, double value, double limit, double sigma, double now);

    const Board& m_board;
    std::vector<Nominal> m_nominal; ///< by part: reading value texts at every step would dominate the run
    double m_inrush_joules = 0;     ///< that the bulk capacitors take at every plugging in
    std::map<Fault, Stress> m_book;
    std::map<Fault, double> m_marked; ///< values at mark()
    double m_marked_at = 0;
    std::vector<double> m_resistor_before, m_junction_before; ///< amperes at the start of the step
};

} // namespace ohmo
