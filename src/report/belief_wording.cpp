// SPDX-License-Identifier: GPL-3.0-or-later
// What settled a part, and what was learned on the way.
#include "report/wording.h"

#include "base/engineering.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::wording {

namespace {

struct ProofWords {
    const char *list, *beside, *in_full;
};

// In the order of the enumeration.
const ProofWords& words_of(Proof proof) {
    static constexpr ProofWords table[] = {
        {"not asked yet", "not asked", "Nothing that was seen or read speaks of it: how often its kind fails."},
        {"own reading", "read", "By its own look, or its own reading out of circuit."},
        {"in circuit", "circuit", "By readings in circuit that it moves."},
        {"by the story", "story", "By the story: a fault that stands brings it along, or a complaint must have a cause. Not read yet."},
        {"by age", "age", "By age: its sisters are as old. Not read yet."},
    };
    return table[static_cast<std::size_t>(proof)];
}

} // namespace

std::string proof(Proof proof) { return words_of(proof).list; }
std::string proof_short(Proof proof) { return words_of(proof).beside; }
std::string proof_in_full(Proof proof) { return words_of(proof).in_full; }

std::string learned(const Board& board, const Learned& l) {
    if (l.part < 0) {
        if (l.what == "leads") return fmt::format("The leads: {} left after nulling.", format_quantity(l.now, "Ω"));
        if (l.what == "diode test")
            return fmt::format("The meter's diode test runs at {} rather than {}.", format_quantity(l.now, "A", 2),
                               format_quantity(l.assumed, "A", 2));
        return fmt::format("Up to {} the meter drives {} rather than {}.", format_nominal(l.range, "Ω"), format_quantity(l.now, "A", 2),
                           format_quantity(l.assumed, "A", 2));
    }
    const std::string unit = l.what == "farads" ? "F" : "Ω";
    const std::string what = l.what == "pin" ? " to ground" : l.what == "leakage" ? " leakage" : l.what == "ESR" ? " ESR" : "";
    return fmt::format("{}{}: {} rather than {}.", board.part(l.part).ref, what, format_quantity(l.now, unit),
                       format_quantity(l.assumed, unit));
}

std::string acquitted(const Assessment& assessment) {
    const double hidden = assessment.acquitted_odds;
    if (hidden >= 0.7) return fmt::format("By the odds {:.1f} of the parts taken for good are bad.", hidden);
    return fmt::format("About 1 chance in {:.0f} that one of the parts taken for good is bad.", 1 / std::max(hidden, 1e-3));
}

std::string looked_over(const Assessment& assessment) {
    if (assessment.looked_over <= 0) return {};
    return fmt::format("Odd looks were noted first: parts without a look of their own are taken to look fine ({}).",
                       format_share(assessment.looked_over));
}

} // namespace ohmo::wording
