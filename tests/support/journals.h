// SPDX-License-Identifier: GPL-3.0-or-later
// Journals that went wrong once and that more than one test holds to.
#pragma once
#include "support/demo.h"

namespace ohmo::test {

/// A blown inverter: after the last reading a fit gives up a step on which it had read other places than where it stays.
inline Job step_given_up() {
    return with_all(discharged("fc1-inverter"),
                    {said("bang"), said("dead"), act(Do::Look, "F1", "open"), act(Do::Look, "Q1", "soot"), act(Do::Look, "R2", "brown"),
                     act(Do::Look, "R10", "brown"), read("ohms", "DRB", "GB", 222.9e3), read("ohms", "GA", "DRA", 10.1),
                     read("ohms", "GB", "DB", 9980), read("ohms", "VCC", "0V", 1.2), read("ohms", "0V", "VCC", 1.2),
                     read("farads", "BAT", "0V", 4.306e-3)});
}

} // namespace ohmo::test
