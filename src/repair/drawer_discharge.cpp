// SPDX-License-Identifier: GPL-3.0-or-later
#include "repair/drawer_discharge.h"

#include <cmath>

namespace ohmo {
namespace {

constexpr int kMostInSeries = 3;

double body_volts(double watts) { return watts < 0.5 ? 250 : watts < 1 ? 350 : 500; }

} // namespace

std::optional<DrawerDischarge> drawer_discharge(const Practice& p, const std::vector<StockItem>& stock, double farads, double volts,
                                                double low_volts) {
    std::optional<DrawerDischarge> best;
    if (!(farads > 0) || !(volts > low_volts)) return best;
    for (const auto& item : stock) {
        if (item.part.kind != PartKind::Resistor || !item.nominal.ohms || !item.nominal.watts) continue;
        for (int n = 1; n <= std::min(kMostInSeries, item.count); ++n) {
            DrawerDischarge d{item.id, item.part, n, 0, 0, n * *item.nominal.ohms};
            const double each = volts / n;
            d.watts_each = each * each / *item.nominal.ohms;
            d.seconds = d.ohms * farads * std::log(volts / low_volts);
            if (d.watts_each > p.drawer_overload * *item.nominal.watts || each > body_volts(*item.nominal.watts) ||
                d.seconds > p.drawer_seconds)
                continue;
            if (!best || n < best->count || (n == best->count && d.seconds < best->seconds)) best = std::move(d);
        }
    }
    return best;
}

} // namespace ohmo
