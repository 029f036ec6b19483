// SPDX-License-Identifier: GPL-3.0-or-later
// The board as time goes on: capacitors charge, windings carry current, sources follow the line.
#pragma once
#include "base/cancel.h"
#include "base/result.h"
#include "circuit/ports.h"

#include <Eigen/Dense>

#include <map>
#include <memory>
#include <span>
#include <vector>

namespace ohmo {

/// A voltage dc + amplitude sin(2 pi hertz t + phase) from `minus` to `plus`, behind a resistance.
struct Source {
    int plus, minus;
    double ohms; ///< > 0
    double dc = 0, amplitude = 0, hertz = 0, phase = 0;
    double volts(double seconds) const;
};

struct TransientOptions {
    double first_step = 1e-7, shortest_step = 1e-9, longest_step = 2e-4; ///< seconds
    double relative = 1e-3;           ///< error a step may make, of each capacitor's volts and winding's amperes
    double volts = 1e-3, amps = 1e-3; ///< and in absolute terms
    double newton = 1e-8;             ///< how far junctions are settled, of the largest voltage across one
    double threshold = 1e-7;          ///< A below which a junction counts as blocked
    std::vector<double> stops;        ///< instants that a step must end at, ascending: where sources turn, say each zero of the line
};

/// State of the energy stores, in the netlist's order.
struct TransientState {
    std::vector<double> capacitor_volts;           ///< inside the ESR
    std::vector<std::vector<double>> winding_amps; ///< by core
};

/// Integrates one netlist. Every part of the circuit that hangs together, capacitors included, has one node held at 0 V.
class Transient {
public:
    /// `state` may be shorter than the netlist: what is missing starts at nothing. `now`: where the sources are.
    Transient(Netlist net, std::vector<Source> sources, TransientOptions options, TransientState state = {}, double now = 0);

    /// One accepted step, not beyond `until`; gives the time it ended at. Errors: SolveFailed (place: the part that did not settle, by
    /// index; or a singular network).
    Result<double> step(double until);

    double now() const { return m_now; }
    double volts(int node) const; ///< against the held node of its part of the circuit
    double volts(int a, int b) const { return volts(a) - volts(b); }
    double resistor_amps(std::size_t k) const;
    double junction_amps(std::size_t k) const; ///< without the 1 nS beside it
    double capacitor_amps(std::size_t k) const { return m_capacitor_amps[k]; }
    double source_amps(std::size_t k) const; ///< out of plus
    const TransientState& state() const { return m_state; }
    const Netlist& netlist() const { return m_net; }

    /// Changes a resistor from now on: a part that heats up, an arc.
    void set_ohms(std::size_t resistor, double ohms);

private:
    enum class Stage { Euler, Trapezoid, Backward2 };
    struct Level { ///< what depends on the step only
        Eigen::MatrixXd inverse, port_columns, port_inverse;
        std::vector<Eigen::MatrixXd> core_siemens;
        std::vector<double> capacitor_share, core_share; ///< of a local error that is left where the store settles within the step
    };
    const Level& level(double rate);
    bool solve(Stage stage, double rate, double at);
    void commit();
    double error(const Level& level) const;
    void find_nodes();

    Netlist m_net;
    std::vector<Source> m_sources;
    TransientOptions m_options;
    PortSet m_ports;
    std::vector<Eigen::MatrixXd> m_inductances, m_core_inverse;
    std::vector<int> m_row; ///< by node; -1: held
    int m_unknowns = 0;
    std::map<double, Level> m_levels; ///< by rate
    double m_now = 0, m_step;
    int m_euler_left; ///< stages to go with backward Euler, as currents of capacitors are not known yet

    // Now, then the intermediate point of the step, then its end.
    TransientState m_state, m_middle, m_next;
    Eigen::VectorXd m_volts, m_next_volts, m_port_volts, m_port_amps, m_next_port_volts, m_next_port_amps;
    std::vector<double> m_capacitor_amps, m_middle_amps, m_next_amps;
    std::vector<std::vector<double>> m_winding_volts, m_middle_winding_volts, m_next_winding_volts; ///< across the inductance alone
    int m_failed_part = -1;
};

} // namespace ohmo
