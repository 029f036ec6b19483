// SPDX-License-Identifier: GPL-3.0-or-later
// The board as electrical elements, for one state of the work and one set of faults.
#pragma once
#include "base/cancel.h"
#include "base/constants.h"
#include "board/board.h"

#include <span>
#include <vector>

namespace ohmo {

inline constexpr double kOpenOhms = 1e9;      ///< an open element; 1e12 already costs one per cent of accuracy
inline constexpr double kJunctionLeak = 1e-9; ///< siemens beside every junction

/// What the technician has done to the board: parts out of circuit and connectors pulled.
struct BoardState {
    std::vector<char> lifted, pulled; ///< by part index; shorter vectors mean "none beyond"
    bool is_lifted(int part) const { return part < static_cast<int>(lifted.size()) && lifted[static_cast<std::size_t>(part)] != 0; }
    bool is_pulled(int part) const { return part < static_cast<int>(pulled.size()) && pulled[static_cast<std::size_t>(part)] != 0; }
    bool operator==(const BoardState&) const = default;
};

struct Resistive {
    int a, b;
    double ohms;
    double ln_sigma; ///< spread of ln(ohms)
    int part;
    bool operator==(const Resistive&) const = default;
};

/// Shockley junction i = is (exp(v / (n Vt)) - 1) behind `rs`, with the breakdown -1 mA exp(-(v + bv) / (breakdown_n Vt)) when bv > 0.
struct Junction {
    int anode, cathode;
    double is, n, bv;
    double ln_sigma; ///< spread of ln(is)
    int part;
    double rs = 0; ///< ohm
    double breakdown_n = 1;
    bool operator==(const Junction&) const = default;
};

/// Bipolar transistor as two coupled junctions (transport form of Ebers and Moll), the emitter junction with a breakdown at -be_bv.
struct Bipolar {
    int c, b, e;
    bool pnp;
    double is, forward_gain, reverse_gain, be_bv;
    double ln_sigma; ///< spread of ln(is)
    int part;
    bool operator==(const Bipolar&) const = default;
};

/// MOSFET channel, square law: i = gain/2 (vgs - threshold)^2 saturated; both directions. `p`: P-channel.
struct Channel {
    int d, g, s;
    bool p;
    double threshold, gain; ///< V, A/V²
    double ln_sigma;        ///< spread of ln(gain)
    int part;
    bool operator==(const Channel&) const = default;
};

struct Capacitive {
    int a, b;
    double farads, esr;
    double ln_sigma, esr_ln_sigma;
    int part;
    bool operator==(const Capacitive&) const = default;
};

struct Winding {
    int a, b;
    double henry, ohms;
    bool operator==(const Winding&) const = default;
};

/// Windings on one core. A plain inductor is a set of one.
struct WindingSet {
    std::vector<Winding> windings;
    double coupling;       ///< between each pair, 0 … <1
    double ln_sigma;       ///< of a winding's resistance
    double henry_ln_sigma; ///< of its inductance
    int part;
    bool operator==(const WindingSet&) const = default;
};

struct Netlist {
    int nodes = 0; ///< the board's nets come first, with their NetId
    std::vector<Resistive> resistors;
    std::vector<Junction> junctions;
    std::vector<Bipolar> bipolars;
    std::vector<Channel> channels;
    std::vector<Capacitive> capacitors;
    std::vector<WindingSet> cores;
};

/// The elements of one part alone. Inner nodes are numbered from the number of nets.
Netlist expand_part(const Board& board, int part, std::span<const Fault> faults);

/// Appends a part's elements, its inner nodes after those that are there already.
void append(Netlist& to, const Netlist& part_elements, int nets);

/// Builds the elements of every part in circuit, each with the effect of its faults.
Netlist expand(const Board& board, const BoardState& state, std::span<const Fault> faults);

/// Whether a part's elements are there at all: not lifted, and not a pulled connector.
bool in_circuit(const Board& board, const BoardState& state, int part);

/// Whether a mode changes anything an unpowered meter could see. Dead controllers and weak optocouplers do not.
bool changes_dc(const Board& board, const Fault& fault);

/// Whether the fault makes a conducting way between galvanic islands.
bool joins_islands(const Board& board, const Fault& fault);

} // namespace ohmo
