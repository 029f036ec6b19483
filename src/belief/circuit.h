// SPDX-License-Identifier: GPL-3.0-or-later
// One galvanic island of a board as elements whose values are unknowns: numbers with a middle and a spread that readings narrow down.
// Values are natural logarithms (ohms, farads, saturation amperes); a fault is only another middle and spread of the same numbers, so that
// the circuit never changes its structure. Nodes are local to the island.
#pragma once
#include <algorithm>
#include <array>
#include <cmath>
#include <memory>
#include <vector>

namespace ohmo::belief {

inline constexpr double kLnOpen = 23.02585;  ///< ln of 1e10 ohm: what does not conduct
inline constexpr double kLnLeast = -7;       ///< ln ohm: nothing is taken to conduct better
inline constexpr double kLnNoJunction = -90; ///< ln A: a junction that is not there
inline constexpr double kJunctionGone = -60; ///< ln A: below it a junction is not looked at
inline constexpr double kThermalVolts = 0.02585;

/// Conductance of ln ohms.
inline double siemens(double ln_ohms) { return std::exp(-std::max(ln_ohms, kLnLeast)); }

/// How the odds of a value fall far from its middle.
enum class Tails : char {
    None,    ///< by the bell: what is farther off is no sound part
    Told,    ///< reckoned from what somebody says of the part at work, or of its windings: in circuit by Student's law
    Straight ///< a figure of a class of parts: beyond kTailsFrom deviations no faster than straight
};

struct Unknown {
    double middle = 0, spread = 1;
    Tails tails = Tails::None;
    bool maybe = false;  ///< of a junction that some of its kind do not have at all
    double least = -1e9; ///< below it the part is at fault, however wide its spread: what a pin of a chip draws
};
inline constexpr double kTailsFrom = 1.5;

/// The unknowns of one meter come first in every island, in this order.
struct MeterUnknown {
    static constexpr int kOffset = 0;                                  ///< ohm left after nulling the leads: the one that is no logarithm
    static constexpr int kOhms = 1, kDiode = 2, kFarads = 3, kEsr = 4; ///< gains
    static constexpr int kDiodeAmps = 5;                               ///< of the diode test
    static constexpr int kAmps = 6;                                    ///< test current by range
    static constexpr int kRanges = 8;
    static constexpr int kCount = kAmps + kRanges;
};

struct Conductor {
    int a, b;
    int ohms; ///< unknown
    int unit;
    bool winding = false; ///< stands in a core for alternating current
};

/// A junction, or one half of a transistor: the current is (exp(u / (n Vt)) - 1), u = v[plus] - v[minus], drawn from node[k] in the
/// proportion draws[k]. One half of a transistor draws by its gain, which nobody knows.
struct JunctionPath {
    int plus, minus;
    int count;
    std::array<int, 3> node;
    std::array<double, 3> draws; ///< where it has a gain only the first counts
    int is;                      ///< unknown
    double n;
    int unit;
    int gain = -1; ///< unknown, ln: of node[0]'s current over that of node[1], the base; node[2] takes both back
};

struct Reservoir {
    int a, b;
    int farads, esr; ///< unknowns
    double loss;     ///< tangent of the loss angle
    int unit;
    double follows = 0, from = 0; ///< ln ESR falls by `follows` for each ln of farads above `from`: a can without a value, large or small
};

struct CoreWinding {
    int a, b;
    int ohms, henry; ///< unknowns
    int unit;
};

struct Core {
    std::vector<CoreWinding> windings;
    double coupling = 0;
};

class Elimination;

struct Circuit {
    int nodes = 0;
    std::vector<Conductor> conductors;
    std::vector<JunctionPath> junctions;
    std::vector<Reservoir> reservoirs;
    std::vector<Core> cores;
    std::shared_ptr<const Elimination> order; ///< found once nothing is added any more
};

} // namespace ohmo::belief
