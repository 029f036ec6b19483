// SPDX-License-Identifier: GPL-3.0-or-later
#include "powerup/store_paths.h"

#include "circuit/dc_solver.h"

#include <algorithm>
#include <limits>

namespace ohmo {
namespace {

// A stacked or doubled link is emptied as a whole; what is measured is one capacitor.
std::pair<NetId, NetId> ends_of(const Board& board, const Store& store) {
    const Part& part = board.part(store.parts.front());
    const NetId plus = part.net("+"), minus = part.net("-");
    return plus >= 0 && minus >= 0 ? std::pair(plus, minus) : std::pair(part.pins[0].id, part.pins[1].id);
}

} // namespace

std::vector<StorePath> store_paths(const Board& board, const BoardRoles& roles) {
    std::vector<StorePath> out;
    const auto stores = charged_stores(board, roles);
    if (stores.empty()) return out;
    const DcSolver solver(expand(board, {}, {}));
    for (const auto& store : stores) {
        auto& path = out.emplace_back();
        path.store = store;
        std::tie(path.plus, path.minus) = ends_of(board, store);
        path.main = store.bulk && (roles.stacked || std::minmax(path.plus, path.minus) == std::minmax(roles.hv, roles.primary_ground));
        path.tau = std::numeric_limits<double>::infinity();
        if (path.plus == path.minus || !solver.connected(path.plus, path.minus)) continue;
        const auto point = solver.solve(path.plus, path.minus, kBleederAmps);
        if (!point.converged || point.volts <= 0) continue;
        const double tau = store.farads * point.volts / kBleederAmps;
        if (tau < board.practice().bleeder_seconds) path.tau = tau;
        // What a part's ohms change of the whole is its share of the work done (reciprocity).
        std::vector<std::pair<double, int>> shares;
        for (const auto& d : point.by_part)
            if (d.sigma > 0 && d.change / d.sigma > board.practice().bleeder_share) shares.emplace_back(d.change / d.sigma, d.part);
        std::sort(shares.rbegin(), shares.rend());
        for (const auto& [share, part] : shares)
            if (std::find(path.through.begin(), path.through.end(), part) == path.through.end()) path.through.push_back(part);
    }
    return out;
}

} // namespace ohmo
