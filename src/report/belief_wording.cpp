// SPDX-License-Identifier: GPL-3.0-or-later
// What settled a part, and what was learned on the way.
#include "report/wording.h"

#include "base/engineering.h"

#include <fmt/format.h>

#include <algorithm>

namespace ohmo::wording {

std::string proof(Proof proof) {
    switch (proof) {
    case Proof::Wear:
        return "not asked yet";
    case Proof::Own:
        return "own reading";
    case Proof::Circuit:
        return "in circuit";
    case Proof::Story:
        return "by the story";
    case Proof::Age:
        return "by age";
    }
    return {};
}

std::string proof_short(Proof proof) {
    switch (proof) {
    case Proof::Wear:
        return "not asked";
    case Proof::Own:
        return "read";
    case Proof::Circuit:
        return "circuit";
    case Proof::Story:
        return "story";
    case Proof::Age:
        return "age";
    }
    return {};
}

std::string proof_in_full(Proof proof) {
    switch (proof) {
    case Proof::Wear:
        return "Nothing that was seen or read speaks of it: how often its kind fails.";
    case Proof::Own:
        return "By its own look, or its own reading out of circuit.";
    case Proof::Circuit:
        return "By readings in circuit that it moves.";
    case Proof::Story:
        return "By the story: a fault that stands brings it along, or a complaint must have a cause. Not read yet.";
    case Proof::Age:
        return "By age: its sisters are as old. Not read yet.";
    }
    return {};
}

std::string learned(const Board& board, const Learned& l) {
    if (l.part < 0) {
        if (l.what == "leads") return fmt::format("The leads: {} left after nulling.", format_quantity(l.now, "Ω"));
        return fmt::format("The meter drives {:.2g} times the test current that was assumed.", l.now / l.assumed);
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

} // namespace ohmo::wording
