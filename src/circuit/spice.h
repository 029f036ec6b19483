// SPDX-License-Identifier: GPL-3.0-or-later
// The element list as a SPICE netlist: for people who simulate elsewhere, and for the tests that compare.
#pragma once
#include "circuit/netlist.h"

#include <functional>
#include <string>
#include <vector>

namespace ohmo {

enum class SpiceUse {
    OperatingPoint, ///< capacitors left out, windings as their resistance
    JunctionsOff,   ///< small signals: every junction as its conductance at zero bias
    Full            ///< everything, coupled windings included
};

/// Element and model lines without title, analysis or `.end`. `node` names a node; ground must come out as "0".
/// The conductance of 1 nS beside every junction is written out. Coupled windings of one core get a K line a pair.
/// `capacitor_volts`: what capacitors start with, in the netlist's order; may be empty. `ref`: names the part in its elements; may be
/// empty.
std::vector<std::string> spice_lines(const Netlist& net, SpiceUse use, const std::function<std::string(int)>& node,
                                     const std::vector<double>& capacitor_volts = {}, const std::function<std::string(int)>& ref = {});

} // namespace ohmo
