// SPDX-License-Identifier: GPL-3.0-or-later
// Everything about one part: what each test of its pins shows when it is sound, in circuit and alone, and when it is not; what was read;
// what its sisters showed; the judgement with its reasons.
#pragma once
#include "job/pipeline.h"
#include "job/shown.h"

#include <optional>
#include <string>
#include <vector>

namespace ohmo {

struct PartTest {
    Quantity what = Quantity::Ohms;
    std::string red, black; ///< pins
    Shown here, alone;      ///< of a sound part: in circuit as the board is now, out of circuit
    struct Failure {
        FaultMode mode;
        Shown alone;
    };
    std::vector<Failure> failures; ///< modes that this test tells from a sound part, out of circuit
    struct Read {
        int entry = -1; ///< journal index
        double value = 0;
        bool over = false, alone = false;
    };
    std::optional<Read> read;                  ///< the last one
    Held against = Held::Fits;                 ///< of what was read
    std::vector<std::pair<int, Read>> sisters; ///< part and what the same test showed there
};

struct PartSheet {
    int part = -1;
    std::vector<PartTest> tests;
    std::vector<int> sisters;         ///< parts of the same kind, value and volts
    std::vector<int> sisters_bad;     ///< of those, believed bad or found so
    std::vector<int> history;         ///< journal entries about it, in order
    std::optional<double> loss;       ///< capacitors with farads and ESR read: tangent of the loss angle at the ESR meter's frequency
    std::optional<double> loss_usual; ///< of a sound one of its sort
};

/// About a dozen predictions: not for the interface thread.
PartSheet part_sheet(const Analysis& analysis, int part);

} // namespace ohmo
