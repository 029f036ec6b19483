// SPDX-License-Identifier: GPL-3.0-or-later
// ngspice's shared library as the reference. An operating point that it does not converge on counts as no answer: its fallback to a
// short transient, which returns unsettled values without an error, is switched off.
#pragma once
#include "circuit/netlist.h"
#include "circuit/transient.h"

#include <complex>
#include <map>
#include <optional>
#include <string>
#include <vector>

namespace ohmo::test {

/// Our element list as a netlist with `ground` at 0, and one tie of 1 Gohm for every part of the circuit that floats.
std::vector<std::string> operating_deck(const Netlist& net, int ground);

std::string spice_node(int n);
std::string spice_log(); ///< of the last analysis

/// Volts of a node under a test current from `ground` into it; empty when there is no answer. `near`: where to start that node.
std::optional<double> spice_volts(const Netlist& net, int node, int ground, double amps, std::optional<double> near = {});

/// Volts of a node of somebody's netlist, its lines as they stand, under a test current into it from a node tied to 0. `floating`: nodes of
/// parts of the circuit that nothing else ties.
std::optional<double> spice_volts_of_file(const std::string& text, const std::string& node, const std::string& ground, double amps,
                                          const std::vector<std::string>& floating);

/// Impedance with every junction off.
std::optional<std::complex<double>> spice_impedance(const Netlist& net, int node, int ground, double hertz);

struct SpiceRun {
    std::vector<double> seconds;
    std::map<int, std::vector<double>> volts; ///< by node, against ground
};

/// A transient from `state`, sources behind their resistances, `ground` at 0; every step at most `longest`.
std::optional<SpiceRun> spice_transient(const Netlist& net, const std::vector<Source>& sources, const std::vector<double>& capacitor_volts,
                                        int ground, double seconds, double longest, const std::vector<int>& nodes,
                                        const std::string& options = "reltol=1e-5 abstol=1e-12 vntol=1e-7 gmin=1e-15 itl4=200 method=gear");

struct DeckRun {
    std::vector<double> seconds;
    std::map<std::string, std::vector<double>> values; ///< by the vector's name: a node, or "v1#branch"
};

/// A transient of a circuit written out by hand, from the initial conditions in it; every step at most `longest`.
std::optional<DeckRun> spice_transient_of_deck(const std::vector<std::string>& lines, double seconds, double longest,
                                               const std::vector<std::string>& vectors,
                                               const std::string& options = "reltol=1e-5 abstol=1e-9 vntol=1e-6 itl4=200 method=gear");

} // namespace ohmo::test
