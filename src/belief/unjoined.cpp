// SPDX-License-Identifier: GPL-3.0-or-later
#include "belief/unjoined.h"

#include <algorithm>

namespace ohmo::belief {
namespace {

bool conducts(const Practice& p, Quantity what, const Shown& shown) {
    if (shown.over) return false;
    if (what == Quantity::Continuity) return shown.value > 0.5;
    return what == Quantity::Diode || shown.value < p.dirt_ohms;
}

int island_of(const Model& model, NetId net) { return net < 0 ? -1 : model.home[static_cast<std::size_t>(net)].first; }

} // namespace

bool between_islands(const Model& model, const Query& query) {
    return query.alone < 0 && query.red >= 0 && query.black >= 0 && island_of(model, query.red) != island_of(model, query.black);
}

std::optional<Unjoined> unjoined(const Model& model, const Board& board, const Observation& o, const Shown& shown) {
    if (!between_islands(model, o.query) || !is_direct(o.query.what)) return std::nullopt;
    Unjoined out{o.entry, conducts(board.practice(), o.query.what, shown)};
    const int a = island_of(model, o.query.red), b = island_of(model, o.query.black);
    for (std::size_t u = 0; u < model.units.size(); ++u) {
        const auto& unit = model.units[u];
        if (o.renewed.contains(unit.part)) continue;
        const auto& pins = board.part(unit.part).pins;
        const auto on = [&](int island) {
            return std::any_of(pins.begin(), pins.end(), [&](const Pin& p) { return island_of(model, p.id) == island; });
        };
        if (!on(a) || !on(b)) continue;
        for (std::size_t m = 1; m < unit.modes.size(); ++m)
            if (joins_islands(board, unit.modes[m].fault)) out.breaks.emplace_back(static_cast<int>(u), static_cast<int>(m));
    }
    return out;
}

} // namespace ohmo::belief
