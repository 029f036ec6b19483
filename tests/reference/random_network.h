// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once
#include "circuit/netlist.h"

#include <random>

namespace ohmo::test {

struct NetworkKind {
    bool resistors_only = false, stores = false; ///< stores: capacitors and windings too
};

/// A connected network of resistors with what `kind` asks for; the same seed, the same network. Faults (shorts of 0.3 ohm, opened
/// resistors, leaks of 3 kohm) are put into every second one.
Netlist random_network(std::mt19937& random, const NetworkKind& kind);

} // namespace ohmo::test
