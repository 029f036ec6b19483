// SPDX-License-Identifier: GPL-3.0-or-later
#include "readings/looked_over.h"

#include "readings/words.h"

namespace ohmo {

double looked_over(const Practice& p, const Evidence& evidence) {
    double answers = 1; // chance that all of them are but answers to questions
    for (const auto& o : evidence.observations) {
        if (o.kind == Seen::Symptom || o.kind == Seen::Outside) continue;
        if (o.kind != Seen::Look || o.word == "fine") break;
        if (o.part >= 0) answers *= 1 - p.looked_over;
    }
    return (1 - answers) * p.look_noticed;
}

double unnoted_chance(const Practice& p, const FaultLibrary& library, PartKind kind, const Fault* fault, double over) {
    return 1 - over * (1 - look_chance(p, library, kind, "fine", fault));
}

} // namespace ohmo
