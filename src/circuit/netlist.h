// SPDX-License-Identifier: GPL-3.0-or-later
// The board as electrical elements, for one state of the work and one set of faults.
#pragma once
#include "base/cancel.h"
#include "board/board.h"

#include <span>
#include <vector>

namespace ohmo {

inline constexpr double kOpenOhms = 1e9;           ///< an open element; 1e12 already costs one per cent of accuracy
inline constexpr double kThermalVolts = 0.0258649; ///< kT/q at 27 degC
inline constexpr double kJunctionLeak = 1e-9;      ///< siemens beside every junction

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
};

/// Shockley junction i = is (exp(v / (n Vt)) - 1), with an exponential breakdown at -bv when bv > 0.
struct Junction {
    int anode, cathode;
    double is, n, bv;
    double ln_sigma; ///< spread of ln(is)
    int part;
};

struct Capacitive {
    int a, b;
    double farads, esr;
    double ln_sigma, esr_ln_sigma;
    int part;
};

struct Winding {
    int a, b;
    double henry, ohms;
};

/// Windings on one core. A plain inductor is a set of one.
struct WindingSet {
    std::vector<Winding> windings;
    double coupling; ///< between each pair, 0 … <1
    double ln_sigma; ///< of resistance and inductance alike
    int part;
};

struct Netlist {
    int nodes = 0; ///< the board's nets come first, with their NetId
    std::vector<Resistive> resistors;
    std::vector<Junction> junctions;
    std::vector<Capacitive> capacitors;
    std::vector<WindingSet> cores;
};

/// Builds the elements of every part in circuit, each with the effect of its faults.
Netlist expand(const Board& board, const BoardState& state, std::span<const Fault> faults);

/// Whether a mode changes anything an unpowered meter could see. Dead controllers and weak optocouplers do not.
bool changes_dc(const Board& board, const Fault& fault);

} // namespace ohmo
