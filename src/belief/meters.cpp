// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/meters.h"

namespace ohmo::belief {

std::vector<MeterKind> meter_kinds(const MeterProfile& like) {
    const auto kind = [&](std::vector<OhmsRange> ranges, double compliance, double ln_prior) {
        MeterKind out{like, ln_prior};
        out.profile.ohms = std::move(ranges);
        out.profile.compliance = compliance;
        return out;
    };
    return {kind({{600, 9e-4}, {6e3, 9e-5}, {6e4, 9e-6}, {6e5, 9e-7}, {6e6, 1e-7}, {6e7, 5e-8}}, 3.0, 0),     // 6,000 counts
            kind({{400, 7e-4}, {4e3, 3e-4}, {4e4, 4e-5}, {4e5, 4e-6}, {4e6, 4e-7}, {4e7, 6e-8}}, 2.6, -0.5),  // 4,000 counts
            kind({{200, 1e-3}, {2e3, 3e-4}, {2e4, 6e-5}, {2e5, 6e-6}, {2e6, 6e-7}, {2e7, 7e-8}}, 2.5, -0.7),  // 2,000 counts
            kind({{200, 1e-3}, {2e3, 2e-4}, {2e4, 2e-5}, {2e5, 2e-6}, {2e6, 2e-7}, {2e7, 3e-8}}, 0.6, -1),    // few volts on ohms
            kind({{500, 1e-3}, {5e3, 2e-4}, {5e4, 2e-5}, {5e5, 2e-6}, {5e6, 2e-7}, {5e7, 5e-8}}, 2.0, -1.2),  // 50,000 counts
            kind({{300, 4e-4}, {3e3, 1e-4}, {3e4, 1e-5}, {3e5, 1e-6}, {3e6, 1e-7}, {3e7, 3e-8}}, 0.6, -1.5)}; // 3,000, few volts
}

bool is_untaught(const MeterProfile& meter) { return meter.id.empty() && meter.ohms == MeterProfile{}.ohms; }

} // namespace ohmo::belief
