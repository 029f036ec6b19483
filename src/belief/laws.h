// SPDX-License-Identifier: GPL-3.0-or-later
// How likely it is that something lies off its middle: what a touch leaves over, and what is unknown of a board. Natural logarithms.
// Source: P. J. Huber, Robust Estimation of a Location Parameter, 1964; K. L. Lange, R. J. A. Little, J. M. G. Taylor, Robust Statistical
// Modeling Using the t Distribution, 1989.
#pragma once
#include "belief/circuit.h"

namespace ohmo::belief {

/// ln density of the bell, or of Student's law with five degrees of freedom.
double ln_bell(double deviations, double spread);
double ln_student(double deviations, double spread);

/// Of the bell that has the same slope as Student's law there: its variance is the smaller by this. `e2`: deviations squared.
double student_pull(double e2);
/// Twice the negative logarithm of Student's law, from its height.
double student_cost(double e2);

/// How the odds of one unknown fall with its distance from the middle: near it as the bell of that spread.
struct Fall {
    double cost = 0; ///< twice what the distance costs
    double pull = 1; ///< of a bell that has the same slope there: its variance is the smaller by this

    /// Beyond kTailsFrom deviations straight, or beyond one by Student's law, as the unknown has it. `in_circuit`: told figures have tails.
    static Fall of(const Unknown& u, double value, bool in_circuit);
    double variance(const Unknown& u) const { return u.spread * u.spread / pull; }
    /// What the evidence by that bell leaves out.
    double beyond(const Unknown& u, double value) const;
};

/// Twice what a value below the least costs.
double least_cost(const Unknown& u, double value);

/// What an unknown paid for a place that no reading holds it at any more: one that shows "over" once a clamp is out of the way, another
/// that had to be met on the way there. A junction that may not be there at all pays for that no more than there being none.
double price_unheld(const Unknown& u, double unheld, double variance);

/// What a reading's own law says of it beyond the bell of that pull: tails are the touch's, the board's figures have their own.
/// `slip`: chance that it is of something else, `broad`: ln density then.
double ln_beyond_bell(double miss, double noise, double pull, double slip, double broad);

} // namespace ohmo::belief
