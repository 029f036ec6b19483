// SPDX-License-Identifier: GPL-3.0-or-later
// What observations made of the hypotheses of one board, kept from one assessment to the next: a journal mostly grows by a line, and all
// that stood in it before makes the same of them again.
#pragma once
#include "readings/evidence.h"

#include <vector>

namespace ohmo {

/// Not for two threads at once.
class Weighed {
public:
    struct Column {
        Observation seen;                  ///< without its place in the journal
        std::vector<double> ln_likelihood; ///< by hypothesis as the weighing counts them; NaN where none was needed yet
        bool asked = false;                ///< weighed before
    };

    /// A column for each observation, in this order; those not among them are forgotten. The list stays valid until the next call.
    std::vector<Column>& of(const std::vector<Observation>& seen, std::size_t hypotheses);

private:
    std::vector<Column> m_columns;
};

} // namespace ohmo
