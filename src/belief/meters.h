// SPDX-License-Identifier: GPL-3.0-or-later
// Kinds of hand meter that an unknown one may be: ranges, test currents, compliance. Orders of magnitude of the trade, no source; each
// current is unknown by a quarter besides and learned.
#pragma once
#include "circuit/meter.h"

#include <vector>

namespace ohmo::belief {

struct MeterKind {
    MeterProfile profile;
    double ln_prior;
};

/// The first is the usual one. Nothing but its ranges, currents and compliance differs from `like`.
std::vector<MeterKind> meter_kinds(const MeterProfile& like);

/// Whether nobody has told the program what meter this is.
bool is_untaught(const MeterProfile& meter);

} // namespace ohmo::belief
