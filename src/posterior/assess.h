// SPDX-License-Identifier: GPL-3.0-or-later
// What the belief says of every part, in the words of the bench: how bad, in which way, what settled it, and the stories it is told in.
// Chances are without unit, reasons decibans (I. J. Good, 1950).
#pragma once
#include "damage/scenario.h"
#include "readings/evidence.h"
#include "readings/outside.h"

#include <array>
#include <limits>
#include <map>
#include <memory>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace ohmo {
namespace belief {
class Belief;
}

/// One observation's part in a suspicion.
struct Reason {
    int entry = -1;      ///< journal index
    double decibans = 0; ///< change of ten times the base-ten log odds; positive raised the suspicion
};

/// What a part's odds rest on.
enum class Proof {
    Wear,    ///< nothing that was seen or read speaks of it: how often its kind fails
    Own,     ///< its own look or its own reading out of circuit
    Circuit, ///< readings in circuit that it moves
    Story,   ///< a fault that stands brings it along, or a complaint must have a cause
    Age,     ///< its sisters of the same age
};
std::string_view proof_name(Proof proof);

struct PartBelief {
    int part = -1;
    double bad = 0;      ///< as the board is now: a new part counts as new
    double readable = 0; ///< of that, in ways that an unpowered reading can show
    double harm = 0;     ///< chance that it is bad in place and would take something else along when power goes on
    std::map<FaultMode, double> modes;
    Fault leading;            ///< likeliest fault of this part (with its place)
    bool settled_cold = true; ///< an unpowered reading can decide
    Proof proof = Proof::Wear;
    std::vector<Reason> reasons; ///< heaviest first
    /// Decibans that all of them speak against it, as the likeliest story without it has them, or, where that is less, the same story with
    /// it sound; infinite where no such story is left, or where the reasons were not asked for.
    double spoken = std::numeric_limits<double>::infinity();
};

struct Story {
    double p = 0; ///< that exactly this is wrong
    Scenario scenario;
};

/// Something that was learned of the board or the meter, beyond what was assumed.
struct Learned {
    int part = -1;                           ///< -1: the meter
    std::string what;                        ///< "ohms", "pin", "leakage", "farads", "ESR"; "leads", "test current", "diode test"
    double range = 0;                        ///< ohm, highest of the range whose test current it is
    double assumed = 0, now = 0, spread = 0; ///< SI, spread of the logarithm (of the leads: ohm)
    double off = 0;                          ///< deviations between the two
};

struct Assessment {
    std::vector<PartBelief> parts; ///< every part, most suspect first
    std::vector<Story> stories;    ///< likeliest first, 40 at the most; the first is always there
    double supply_good = 0;
    double unexplained = 0;
    std::array<double, kOutsides> outside{}; ///< chance that a complaint comes from there and from nothing on the board
    std::vector<int> contradicted_by;        ///< journal entries that the leading story does not explain
    std::set<int> open_complaints;           ///< words that it leaves without a cause
    std::vector<Learned> learned;            ///< most surprising first
    std::vector<Learned> bent;               ///< of sound parts, what the leading story has farther off than such parts are
    double looked_over = 0;                  ///< chance that an odd look of a part of which nothing is noted would have been
    double acquitted_odds = 0;               ///< sum of the odds of all parts that count as good
    double harm = 0;                         ///< chance that anything is left which would take something else along when power goes on
    std::shared_ptr<const belief::Belief> belief;

    const PartBelief& of(int part) const;
};

Assessment assess(const Board& board, std::shared_ptr<const belief::Belief> belief, const Evidence& evidence);

/// Whether cold readings can tell this mode from a healthy part.
bool settled_cold(const Board& board, const Fault& fault);

} // namespace ohmo
